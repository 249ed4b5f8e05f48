import { orderInput } from "@/core/purchasing";
import { dateText, describeFound } from "@/core/shared";
import { approvalOf } from "@/server/approvals";
import { invoiceLookups } from "@/server/ledger";
import { listPartners } from "@/server/partners";
import { getOrder } from "@/server/purchasing";
import { listPurchaseItems } from "@/server/trade";
import { listTaxCodes } from "@/server/taxes";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { OrderEditor } from "./OrderEditor";
import type { OrderLookups } from "./orderGrid";
import { OrderView } from "./OrderView";

export const metadata = { title: "Order" };

export default async function OrderPage({
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
    <Page title="Order">
      <Problems messages={messages} />
    </Page>
  );
  const found = id === "new" ? null : await getOrder(caller, { id: Number(id) || 0 });
  if (found && !found.ok) return refusal(found.problems.map(describeFound));
  const view = found?.ok ? found.value : null;
  const company = view?.company ?? place.company;
  const currency = frame.companies.find((c) => c.code === company)?.currency ?? "EUR";
  const writes = !view || view.mayChange || view.status === "open";
  const coding = writes ? await invoiceLookups(caller, { company, period: place.period }) : null;
  if (view && (!coding?.ok || !view.mayChange)) {
    const approval = await approvalOf(caller, { id: view.id });
    return (
      <OrderView
        key={`${view.id} ${view.version}`}
        view={view}
        approval={approval.ok ? approval.value : null}
        lookups={coding?.ok ? await lookupsOf(coding.value) : null}
        currency={currency}
      />
    );
  }
  if (!coding?.ok) return refusal(coding ? coding.problems.map(describeFound) : []);
  async function lookupsOf(
    value: Omit<OrderLookups, "suppliers" | "taxes" | "items">,
  ): Promise<OrderLookups> {
    const [suppliers, taxes, items] = [
      await listPartners(caller, { role: "supplier" }),
      await listTaxCodes(caller, { direction: "purchase" }),
      await listPurchaseItems(caller),
    ];
    return {
      ...value,
      suppliers: suppliers.ok ? suppliers.value.filter((s) => !s.blocked) : [],
      taxes: taxes.ok
        ? taxes.value
            .filter((t) => !t.blocked && t.kind !== "withheld")
            .map((t) => ({ code: t.code, name: t.name }))
        : [],
      items: items.ok ? items.value : [],
    };
  }
  const kind = view?.kind ?? (address.kind === "request" ? "request" : "order");
  const content = view?.content ?? orderInput({ company, date: dateText(frame.today) });
  return (
    <OrderEditor
      key={view?.id ?? `new ${company} ${kind}`}
      kind={kind}
      start={{
        id: view?.id ?? null,
        version: view?.version ?? 0,
        content,
        savedAt: view?.savedAt ?? null,
        check: view?.check ?? null,
      }}
      lookups={await lookupsOf(coding.value)}
      currency={currency}
      mayPlace={frame.person.rights.includes("post.payables")}
    />
  );
}
