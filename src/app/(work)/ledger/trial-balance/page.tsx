import { describeFound } from "@/core/shared";
import { chart, trialBalance } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { TracePanel } from "@/ui/trace/TracePanel";
import {
  asKnownNote,
  frameData,
  readAddress,
  reportInput,
  type SearchParams,
} from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { openTrace } from "@/app/lib/trace";
import { CompaniesBeside } from "./CompaniesBeside";
import { TrialBalanceFooter, TrialBalanceTable } from "./TrialBalanceTable";
import { TrialBalanceActions } from "./TrialBalanceActions";

export const metadata = { title: "Trial balance" };

export default async function TrialBalancePage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const withClosing = address.closing === "1";
  const values = address.value ? [address.value] : [];
  const tree = await chart(caller);
  const result = await trialBalance(caller, { ...reportInput(place), withClosing, values });
  if (!result.ok || !tree.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Trial balance">
        <Problems messages={(result.ok ? [] : result.problems).map(describeFound)} />
      </Page>
    );
  const balance = result.value;
  const note = `${balance.companyName} · ${balance.label} · ${balance.book} · ${balance.currency}${place.asKnown ? asKnownNote(place.asKnown) : ""}`;
  const actions = (
    <TrialBalanceActions
      withClosing={withClosing}
      value={address.value ?? ""}
      beside={address.beside === "1"}
    />
  );
  if (address.beside === "1") {
    const frame = await frameData();
    const others = await Promise.all(
      frame.companies.map(async (c) =>
        trialBalance(caller, {
          ...reportInput({ ...place, company: c.code }),
          withClosing,
          values,
        }),
      ),
    );
    return (
      <Page
        strip={<PeriodStrip range />}
        title="Trial balance"
        note={`${balance.label} · ${balance.book} · closing balances, each company in its currency`}
        actions={actions}
      >
        <CompaniesBeside
          companies={others.flatMap((o) => (o.ok ? [o.value] : []))}
          missing={frame.companies.filter((_, i) => !others[i]!.ok).map((c) => c.name)}
        />
      </Page>
    );
  }
  const open = await openTrace(address, place, { withClosing, values });
  const now = place.asKnown
    ? await trialBalance(caller, {
        ...reportInput({ ...place, asKnown: null }),
        withClosing,
        values,
      })
    : null;
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Trial balance"
      note={note}
      actions={actions}
      panel={<TracePanel {...open} />}
      footer={<TrialBalanceFooter balance={balance} />}
    >
      <TrialBalanceTable
        balance={balance}
        headings={[...tree.value.headings]}
        zeros={address.zeros === "1"}
        now={now?.ok ? now.value : null}
      />
    </Page>
  );
}
