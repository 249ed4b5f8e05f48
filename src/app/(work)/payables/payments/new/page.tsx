import { isAtBank } from "@/core/banks";
import { describeFound } from "@/core/shared";
import { listBankAccounts } from "@/server/banks";
import { invoiceLookups } from "@/server/ledger";
import { openItems } from "@/server/openItems";
import { listPartners } from "@/server/partners";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { SinglePaymentForm } from "./SinglePaymentForm";

export const metadata = { title: "Single payment" };

export default async function SinglePaymentPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const frame = await frameData();
  const [banks, suppliers, coding] = [
    await listBankAccounts(caller),
    await listPartners(caller, {}),
    await invoiceLookups(caller, { company: place.company, period: place.period }),
  ];
  const problems = [banks, suppliers, coding].flatMap((r) =>
    r.ok ? [] : r.problems.map(describeFound),
  );
  if (!banks.ok || !suppliers.ok || !coding.ok)
    return (
      <Page title="Single payment">
        <Problems messages={problems} />
      </Page>
    );
  const supplier = address.supplier ?? "";
  const items =
    supplier === ""
      ? null
      : await openItems(caller, {
          company: place.company,
          area: "payables",
          on: frame.today,
          partner: supplier,
        });
  // What a customer has paid too much, or is credited, is paid back: for who may see it.
  const credits =
    supplier === ""
      ? null
      : await openItems(caller, {
          company: place.company,
          area: "receivables",
          on: frame.today,
          partner: supplier,
        });
  const shown = [
    ...(items?.ok ? items.value.filter((i) => i.hold === "") : []),
    ...(credits?.ok ? credits.value.filter((i) => i.left < 0n) : []),
  ];
  return (
    <SinglePaymentForm
      key={supplier}
      supplier={supplier}
      banks={banks.value
        .filter((b) => b.company === place.company && isAtBank(b))
        .map(({ code, name, currency }) => ({ code, name, currency }))}
      suppliers={suppliers.value.map(({ code, name }) => ({ code, name }))}
      items={shown.filter((i) => i.left !== 0n)}
      lookups={coding.value}
    />
  );
}
