import { describeFound } from "@/core/shared";
import { signInsFromNewPlaces } from "@/server/access";
import { listFirstSteps } from "@/server/organisation";
import { today } from "@/server/ledger";
import { closeBoard } from "@/server/closing";
import { callsForMe } from "@/server/documents";
import { listJobs } from "@/server/jobs";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JobsToday } from "../jobs/JobsToday";
import { FirstSteps } from "./FirstSteps";
import { TodayDesk } from "./TodayDesk";
import { shownDate } from "@/ui/writing";

export const metadata = { title: "Today" };

export default async function TodayPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const frame = await frameData();
  const caller = await pageCaller();
  const steps = await listFirstSteps(caller);
  const desk = await today(caller, { company: place.company || undefined });
  const calls = await callsForMe(caller);
  const jobs = await listJobs(caller);
  const strange = await signInsFromNewPlaces(caller);
  // The close that is under way: the first period that is not closed.
  const company = frame.companies.find((c) => c.code === place.company);
  const closing = company?.periods.find(
    (p) => !p.adjustment && ["closing", "open"].includes(p.states[place.book] ?? ""),
  );
  const board = closing
    ? await closeBoard(caller, { company: place.company, book: place.book, period: closing.key })
    : null;
  return (
    <Page
      strip={<PeriodStrip />}
      title="Today"
      note={`${shownDate(frame.today)} · ${frame.person.name}`}
    >
      {strange.ok && strange.value.length > 0 && (
        <p role="status" className="notice">
          Signed in under your name from where you had not been before:{" "}
          {strange.value
            .map((s) => `${s.address}, ${shownDate(s.at.slice(0, 10))} ${s.at.slice(11, 16)}`)
            .join("; ")}
          . Was it not you? Change your password under My account.
        </p>
      )}
      {steps.ok && steps.value.length > 0 && <FirstSteps steps={steps.value} />}
      {jobs.ok && <JobsToday jobs={jobs.value} />}
      {desk.ok ? (
        <TodayDesk
          desk={desk.value}
          board={board?.ok ? board.value : null}
          companies={frame.companies.length}
          calls={calls.ok ? calls.value : []}
        />
      ) : (
        <Problems messages={desk.problems.map(describeFound)} />
      )}
    </Page>
  );
}
