import { bankAddressText } from "@/core/banks";
import { describeFound } from "@/core/shared";
import { getRun } from "@/server/runs";
import { paymentsOfRun, type PaymentRunDetail } from "@/server/payables";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { PaymentPapers } from "../../../payables/payments/PaymentPapers";
import { RunPage } from "./RunPage";

export default async function RunScreen({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params;
  const caller = await pageCaller();
  const result = await getRun(caller, { key: decodeURIComponent(key) });
  if (!result.ok)
    return (
      <Page title="Run">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const run = result.value;
  const papers =
    run.kind === "payment" || run.kind === "single-payment"
      ? await paymentsOfRun(caller, { run: run.id })
      : null;
  if (!papers?.ok) return <RunPage run={run} />;
  const { payments, outside = false } = run.proposal.detail as PaymentRunDetail;
  const planned = payments.map((p) => ({
    key: p.key,
    payee: p.payee,
    method: p.method,
    currency: p.currency,
    amount: p.amount,
    discount: p.discount,
    to: bankAddressText(p),
    items: p.items.length,
    firstItem: p.items.length === 0 ? null : Math.min(...p.items.map((i) => i.item)),
  }));
  return (
    <RunPage
      run={run}
      part={{
        name: `Payments ${planned.length}`,
        content: (
          <PaymentPapers
            run={run.id}
            status={run.status}
            mayPost={run.mayPost}
            planned={planned}
            outside={outside}
            approval={run.approval}
            papers={papers.value}
          />
        ),
      }}
    />
  );
}
