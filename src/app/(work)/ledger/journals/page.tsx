import { describeFound } from "@/core/shared";
import { readPreferences } from "@/server/access";
import { listJournals } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JournalActions, JournalList } from "./JournalList";

export const metadata = { title: "Journals" };

export default async function JournalsPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const frame = await frameData();
  const company = frame.companies.find((c) => c.code === place.company);
  const from = company?.periods.find((p) => p.key === place.from)?.start;
  const to = company?.periods.find((p) => p.key === place.period)?.end;
  const status = ["draft", "posted", "reversed"].includes(address.status ?? "") ? address.status! : "all";
  const text = address.text ?? "";
  const caller = await pageCaller();
  // Drafts and a text are looked for everywhere; the strip narrows the rest.
  const anywhere = status === "draft" || text !== "";
  const result = await listJournals(caller, { company: place.company, status, text, limit: 1000, ...(anywhere ? {} : { from, to }) });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Journals">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const preferences = await readPreferences(caller);
  const { items, count, next } = result.value;
  return (
    <Page strip={<PeriodStrip range />} title="Journals" note={`${company?.name ?? ""}${anywhere ? " · all periods" : ""}${next === null ? "" : ` · the latest ${items.length} of ${count}`}`} actions={<JournalActions status={status} text={text} />}>
      <JournalList items={items} currency={company?.currency ?? "EUR"} kept={preferences.ok ? preferences.value["table.journals"] : undefined} />
    </Page>
  );
}
