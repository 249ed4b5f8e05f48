import type { ReactNode } from "react";
import { Frame } from "@/ui/frame/Frame";
import { WorkProvider } from "@/ui/frame/work";
import { frameData, lastPlace } from "../lib/place";
import { whatWaits } from "@/server/documents";
import { listJobs } from "@/server/jobs";
import { signedIn } from "../lib/session";
import { JobsInFrame } from "./jobs/JobsInFrame";
import { isUnderWay } from "./jobs/underWay";
import { signInAgainAction, signOutAction } from "../sign-in/actions";

export default async function WorkLayout({ children }: { children: ReactNode }) {
  const caller = await signedIn();
  const jobs = await listJobs(caller);
  const waits = await whatWaits(caller);
  const info = { ...(await frameData()), waiting: waits.ok ? waits.value : {} };
  return (
    <WorkProvider info={info} last={await lastPlace()}>
      <Frame
        signOut={signOutAction}
        signIn={signInAgainAction}
        jobs={<JobsInFrame first={jobs.ok ? jobs.value.filter(isUnderWay) : []} />}
      >
        {children}
      </Frame>
    </WorkProvider>
  );
}
