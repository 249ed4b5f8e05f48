import { journalInput } from "@/core/ledger";
import { dateText, describeFound } from "@/core/shared";
import { copyOf, getJournal, getRecurring, lookups } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RecurringForm } from "./RecurringForm";

export default async function RecurringJournalPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const { id } = await params;
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const frame = await frameData();
  const refusal = (messages: string[]) => (
    <Page strip={<PeriodStrip />} title="Recurring journal">
      <Problems messages={messages} />
    </Page>
  );
  const period = frame.companies
    .find((c) => c.code === place.company)
    ?.periods.find((p) => p.key === place.period);
  const upTo = period?.end ?? frame.today;
  if (id === "new") {
    const found = await lookups(caller, { company: place.company, period: place.period });
    if (!found.ok) return refusal(found.problems.map(describeFound));
    const earlier = address.copy ? await getJournal(caller, { key: address.copy }) : null;
    const content = earlier?.ok
      ? copyOf(earlier.value, place.company)
      : journalInput({ company: place.company, type: found.value.types[0]?.code ?? "general" });
    const rhythm = { every: 1, unit: "month" as const, first: dateText(upTo), until: "" };
    return (
      <RecurringForm
        key={`new ${place.company}`}
        view={null}
        name={content.description}
        content={content}
        rhythm={rhythm}
        lookups={found.value}
        currency={frame.companies.find((c) => c.code === place.company)?.currency ?? "EUR"}
      />
    );
  }
  const result = await getRecurring(caller, { id: Number(id) || 0, upTo });
  if (!result.ok) return refusal(result.problems.map(describeFound));
  const view = result.value;
  const found = await lookups(caller, { company: view.company, period: place.period });
  const rhythm = {
    ...view.rhythm,
    first: dateText(view.rhythm.first),
    until: view.rhythm.until ? dateText(view.rhythm.until) : "",
  };
  return (
    <RecurringForm
      key={`${view.id} ${view.version}`}
      view={view}
      name={view.name}
      content={view.content}
      rhythm={rhythm}
      lookups={found.ok ? found.value : { accounts: [], dimensions: [], shortcuts: [], types: [] }}
      currency={frame.companies.find((c) => c.code === view.company)?.currency ?? "EUR"}
    />
  );
}
