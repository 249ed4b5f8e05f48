import { describeFound } from "@/core/shared";
import { readPreferences } from "@/server/access";
import { journalTypes, listJournals, preparers } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JournalActions, JournalList, type JournalFilter } from "./JournalList";

export const metadata = { title: "Journals" };

export default async function JournalsPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const frame = await frameData();
  const company = frame.companies.find((c) => c.code === place.company);
  const from = company?.periods.find((p) => p.key === place.from)?.start;
  const to = company?.periods.find((p) => p.key === place.period)?.end;
  const status = ["draft", "waiting", "posted", "reversed"].includes(address.status ?? "") ? address.status! : "all";
  const text = address.text ?? "";
  const caller = await pageCaller();
  // Drafts and a text are looked for everywhere; the strip narrows the rest.
  const anywhere = status === "draft" || text !== "";
  const filter: JournalFilter = { type: address.type ?? "", preparer: address.preparer ?? "", account: address.account ?? "", amountFrom: address.amountFrom ?? "", amountTo: address.amountTo ?? "" };
  const result = await listJournals(caller, { company: place.company, status, text, limit: 1000, ...(anywhere ? {} : { from, to }), ...Object.fromEntries(Object.entries(filter).filter(([, v]) => v)) });
  const types = await journalTypes(caller);
  const people = await preparers(caller, { company: place.company });
  const actions = <JournalActions status={status} text={text} filter={filter} types={types.ok ? types.value.map(({ code, name }) => ({ code, name })) : []} people={people.ok ? people.value : []} />;
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Journals" actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const preferences = await readPreferences(caller);
  const { items, count, next } = result.value;
  return (
    <Page strip={<PeriodStrip range />} title="Journals" note={`${company?.name ?? ""}${anywhere ? " · all periods" : ""}${next === null ? "" : ` · the latest ${items.length} of ${count}`}`} actions={actions}>
      <JournalList items={items} currency={company?.currency ?? "EUR"} kept={preferences.ok ? preferences.value["table.journals"] : undefined} />
    </Page>
  );
}
