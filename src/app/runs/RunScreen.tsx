import type { ReactNode } from "react";
import { redirect } from "next/navigation";
import { bankAddressText } from "@/core/banks";
import { MOST } from "@/core/lists";
import { ITEM_STATES, runPages } from "@/core/runs";
import { describeFound } from "@/core/shared";
import { getRun, listRunDrafts, listRunItems, type RunView } from "@/server/runs";
import { paymentsOfRun, type PaymentRunDetail } from "@/server/banks";
import { debitsOfRun, lettersOfRun } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { startOfList } from "@/app/lib/listPage";
import { listAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PaymentPapers } from "@/app/(work)/payables/payments/PaymentPapers";
import { RunDebits } from "@/app/(work)/receivables/debits/RunDebits";
import { RunLetters } from "@/app/(work)/receivables/letters/RunLetters";
import { RunPage } from "./RunPage";

export interface RunScreenProps {
  params: Promise<{ key: string }>;
  searchParams: SearchParams;
}

/** A run so small is worked on as one sheet, by groups; a larger one is a list. */
const SHEET = 500;

/** The page of a run, below the pages of its kind's work; from any other it leads there. */
export async function RunScreen({ params, searchParams, at }: RunScreenProps & { at: string }) {
  const key = decodeURIComponent((await params).key);
  const caller = await pageCaller();
  const found = await getRun(caller, { key });
  if (!found.ok) return <NoRun messages={found.problems.map(describeFound)} />;
  const run = found.value;
  const { address, input } = await listAddress(searchParams);
  const pages = runPages(run.kind);
  if (pages !== at) redirect(`${pages}/${run.id}?${new URLSearchParams(defined(address))}`);
  const status = ITEM_STATES.find((state) => state === address.status) ?? "all";
  const { sort, filters } = input;
  const asked = { company: run.company, run: String(run.id), status, text: "", sort, filters };
  const count = Object.values(run.items).reduce((n, of) => n + of, 0);
  const sheet = count > 0 && count <= SHEET && run.groups > 1;
  const items = await listRunItems(
    caller,
    sheet ? { company: run.company, run: String(run.id), limit: MOST } : asked,
  );
  if (!items.ok) return <NoRun messages={items.problems.map(describeFound)} />;
  const drafts = await listRunDrafts(caller, { run: asked.run });
  const part = (await paymentsPart(run)) ?? (await lettersPart(run)) ?? (await debitsPart(run));
  return (
    <RunPage
      run={run}
      sheet={sheet ? items.value.rows : null}
      items={await startOfList("run-items", items.value, asked)}
      drafts={drafts.ok ? drafts.value.drafts : []}
      {...(part ? { part } : {})}
    />
  );
}

const defined = (address: Record<string, string | undefined>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(address).filter((e): e is [string, string] => e[1] !== undefined),
  );

const NoRun = ({ messages }: { messages: string[] }) => (
  <Page title="Run">
    <Problems messages={messages} />
  </Page>
);

const PAYING: ReadonlySet<string> = new Set(["payment", "single-payment", "transfer"]);

/** The letters of a run that writes to customers. */
async function lettersPart(run: RunView): Promise<{ name: string; content: ReactNode } | null> {
  if (run.kind !== "letters") return null;
  const letters = await lettersOfRun(await pageCaller(), { run: String(run.id) });
  if (!letters.ok) return null;
  return {
    name: `Letters ${letters.value.length}`,
    content: (
      <RunLetters
        run={run.id}
        status={run.status}
        currency={run.currency}
        letters={letters.value}
      />
    ),
  };
}

/** The direct debits of a run that debits customers. */
async function debitsPart(run: RunView): Promise<{ name: string; content: ReactNode } | null> {
  if (run.kind !== "direct-debit") return null;
  const papers = await debitsOfRun(await pageCaller(), { run: run.id });
  if (!papers.ok) return null;
  return {
    name: `Direct debits ${papers.value.debits.length}`,
    content: <RunDebits run={run.id} status={run.status} papers={papers.value} />,
  };
}

/** The payments of a run that pays, with their papers. */
async function paymentsPart(run: RunView): Promise<{ name: string; content: ReactNode } | null> {
  if (!PAYING.has(run.kind)) return null;
  const papers = await paymentsOfRun(await pageCaller(), { run: run.id });
  if (!papers.ok) return null;
  const { payments, outside = false } = run.detail as PaymentRunDetail;
  const planned = payments.map((p) => ({
    key: p.key,
    payee: p.payee,
    method: p.method,
    currency: p.currency,
    amount: p.amount,
    discount: p.discount,
    to: bankAddressText(p),
    items: p.items.length,
    purpose: p.purpose,
    firstItem: p.items.length === 0 ? null : Math.min(...p.items.map((i) => i.item)),
  }));
  return {
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
        overrides={run.overrides}
      />
    ),
  };
}
