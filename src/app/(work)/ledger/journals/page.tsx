import { describeFound } from "@/core/shared";
import { journalTypes, listJournals, preparers } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { startOfList } from "@/app/lib/listPage";
import { pageCaller } from "@/app/lib/session";
import { JournalActions, JournalList, type JournalFilter } from "./JournalList";

export const metadata = { title: "Journals" };

export default async function JournalsPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, company, status, text, anywhere, input } = await listAddress(searchParams);
  const caller = await pageCaller();
  const filter: JournalFilter = {
    type: address.type ?? "",
    preparer: address.preparer ?? "",
    account: address.account ?? "",
    amountFrom: address.amountFrom ?? "",
    amountTo: address.amountTo ?? "",
  };
  const asked = {
    ...input,
    ...Object.fromEntries(Object.entries(filter).filter(([, v]) => v)),
  };
  const result = await listJournals(caller, asked);
  const types = await journalTypes(caller);
  const people = await preparers(caller, { company: input.company });
  const actions = (
    <JournalActions
      status={status}
      text={text}
      filter={filter}
      types={types.ok ? types.value.map(({ code, name }) => ({ code, name })) : []}
      people={people.ok ? people.value : []}
    />
  );
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Journals" actions={actions}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Journals"
      note={`${company?.name ?? ""}${anywhere ? " · all periods" : ""}`}
      actions={actions}
    >
      <JournalList
        list={await startOfList("journals", result.value, asked)}
        currency={company?.currency ?? "EUR"}
      />
    </Page>
  );
}
