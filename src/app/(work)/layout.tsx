import type { ReactNode } from "react";
import { Frame } from "@/ui/frame/Frame";
import { WorkProvider } from "@/ui/frame/work";
import { frameData, lastPlace } from "../lib/place";
import { signInAgainAction, signOutAction } from "../sign-in/actions";

export default async function WorkLayout({ children }: { children: ReactNode }) {
  return (
    <WorkProvider info={await frameData()} last={await lastPlace()}>
      <Frame signOut={signOutAction} signIn={signInAgainAction}>
        {children}
      </Frame>
    </WorkProvider>
  );
}
