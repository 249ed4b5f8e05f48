import { saleInput } from "@/core/receivables";
import { dateText, describeFound } from "@/core/shared";
import { approvalOf } from "@/server/approvals";
import { getJournal, invoiceLookups } from "@/server/ledger";
import { getSale } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JournalBeside } from "../../../ledger/journals/[key]/JournalBeside";
import { saleLookups } from "../saleLookups";
import { SaleEditor } from "./SaleEditor";
import { SaleView } from "./SaleView";

export const metadata = { title: "Sales invoice" };

export default async function SalePage({
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
    <Page strip={<PeriodStrip />} title="Sales invoice">
      <Problems messages={messages} />
    </Page>
  );
  const found = id === "new" ? null : await getSale(caller, { id: Number(id) || 0 });
  if (found && !found.ok) return refusal(found.problems.map(describeFound));
  const view = found?.ok ? found.value : null;
  if (view && (view.status !== "draft" || !view.mayChange)) {
    const beside = address.beside ? await getJournal(caller, { key: address.beside }) : null;
    const approval = await approvalOf(caller, { id: view.id });
    return (
      <SaleView
        view={view}
        approval={approval.ok ? approval.value : null}
        panel={
          beside && (
            <JournalBeside
              journal={beside.ok ? beside.value : null}
              message={beside.ok ? null : beside.problems.map(describeFound).join(" ")}
            />
          )
        }
      />
    );
  }
  const company = view?.company ?? place.company;
  const coding = await invoiceLookups(caller, { company, period: place.period });
  if (!coding.ok) return refusal(coding.problems.map(describeFound));
  const lookups = await saleLookups(caller, coding.value);
  const begun = { company, date: dateText(frame.today), customer: address.customer ?? "" };
  return (
    <SaleEditor
      key={view?.id ?? `new ${company}`}
      start={{
        id: view?.id ?? null,
        version: view?.version ?? 0,
        content: view?.content ?? saleInput(begun),
        savedAt: view?.savedAt ?? null,
        check: view?.check ?? null,
      }}
      lookups={lookups}
      currency={frame.companies.find((c) => c.code === company)?.currency ?? "EUR"}
      mayPost={frame.person.rights.includes("post.receivables")}
    />
  );
}
