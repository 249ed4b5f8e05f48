import type { Metadata } from "next";
import { cookies, headers } from "next/headers";
import type { ReactNode } from "react";
import { readWriting, writingCode } from "@/core/shared";
import { EarlyTyping } from "@/ui/frame/EarlyTyping";
import { NOTE_EARLY } from "@/ui/frame/noteEarly";
import { WRITING_COOKIE } from "./lib/writing";
import "./globals.css";

export const metadata: Metadata = {
  title: { default: "Yellow Anchor", template: "%s · Yellow Anchor" },
  icons: "/icon.svg",
};

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Reading the request makes every page dynamic, which its nonce needs.
  const nonce = (await headers()).get("x-nonce") ?? undefined;
  const jar = await cookies();
  const theme = jar.get("theme")?.value === "dark" ? "dark" : "light";
  const writing = writingCode(readWriting(jar.get(WRITING_COOKIE)?.value));
  return (
    <html lang="en" data-theme={theme} data-writing={writing}>
      <body>
        {/* The browser hides a nonce from scripts, so that it looks changed. */}
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{ __html: NOTE_EARLY }}
        />
        {children}
        <EarlyTyping />
      </body>
    </html>
  );
}
