import type { Metadata } from "next";
import { cookies, headers } from "next/headers";
import type { ReactNode } from "react";
import { readWriting, writingCode } from "@/core/shared";
import { WRITING_COOKIE } from "./lib/writing";
import "./globals.css";

export const metadata: Metadata = {
  title: { default: "Yellow Anchor", template: "%s · Yellow Anchor" },
  icons: "/icon.svg",
};

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Reading the request makes every page dynamic, which its nonce needs.
  await headers();
  const jar = await cookies();
  const theme = jar.get("theme")?.value === "dark" ? "dark" : "light";
  const writing = writingCode(readWriting(jar.get(WRITING_COOKIE)?.value));
  return (
    <html lang="en" data-theme={theme} data-writing={writing}>
      <body>{children}</body>
    </html>
  );
}
