import { describeFound } from "@/core/shared";
import { accountView } from "@/server/ledger";
import { readPreferences } from "@/server/access";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { TracePanel } from "@/ui/trace/TracePanel";
import { AsKnown } from "@/ui/AsKnown";
import { readAddress, reportInput, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { openTrace } from "@/app/lib/trace";
import { AccountActions } from "./AccountActions";
import { AccountFooter, AccountLines, AccountMonths, TAccount } from "./AccountLines";
import { AccountPicker } from "./AccountPicker";
import { LazyChart } from "./LazyChart";

export default async function AccountPage({ params, searchParams }: { params: Promise<{ number: string }>; searchParams: SearchParams }) {
  const { number } = await params;
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const values = address.value ? [address.value] : [];
  const result = await accountView(caller, { ...reportInput(place), account: decodeURIComponent(number), values });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title={`Account ${decodeURIComponent(number)}`} actions={<AccountPicker />}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const view = result.value;
  const preferences = await readPreferences(caller);
  const open = await openTrace(address, place, { values, withClosing: true });
  return (
    <Page
      strip={<PeriodStrip range />} title={`${view.account.number} ${view.account.name}`} note={`${view.companyName} · ${view.book} · ${view.account.type === "units" ? "units" : view.currency}${view.account.control ? ` · ${view.account.control} control account` : ""}${address.value ? ` · ${address.value}` : ""}`}
      actions={<><AccountPicker /><AccountActions value={address.value ?? ""} chart={address.chart === "1"} asT={address.as === "t"} /><AsKnown changes /></>} panel={<TracePanel {...open} />} footer={<AccountFooter view={view} />}
    >
      <AccountMonths view={view} />
      {address.chart === "1" && <LazyChart view={view} />}
      {address.as === "t" ? <TAccount view={view} /> : <AccountLines view={view} kept={preferences.ok ? preferences.value["table.account-lines"] : undefined} />}
    </Page>
  );
}
