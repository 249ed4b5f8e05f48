import { describeFound } from "@/core/shared";
import { PAPER_KINDS, type PaperKind } from "@/core/banks";
import { getBankPaper, listBankAccounts } from "@/server/banks";
import { Empty, Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PaperEditor } from "./PaperEditor";

export const metadata = { title: "Cheques, bills and notes" };

export default async function BankPaperPage({ searchParams }: { searchParams: SearchParams }) {
  const caller = await pageCaller();
  const { address, place } = await readAddress(searchParams);
  const accounts = await listBankAccounts(caller);
  const own = accounts.ok ? accounts.value.filter((a) => a.kind !== "cash") : [];
  const account =
    own.find((a) => a.code === address.account) ?? own.find((a) => a.company === place.company);
  if (!account)
    return (
      <Page title="Cheques, bills and notes">
        <Empty title="No bank account">
          The layout of cheques, bills and notes belongs to a bank account. Add one first.
        </Empty>
      </Page>
    );
  const kind = PAPER_KINDS.find((k) => k === address.kind) ?? ("cheque" satisfies PaperKind);
  const paper = await getBankPaper(caller, { code: account.code, kind });
  const { person } = await frameData();
  if (!paper.ok)
    return (
      <Page title="Cheques, bills and notes">
        <Problems messages={paper.problems.map(describeFound)} />
      </Page>
    );
  return (
    <PaperEditor
      key={`${account.code} ${kind} ${paper.value.version}`}
      paper={paper.value}
      account={account}
      accounts={own}
      mayChange={person.rights.includes("setup.rules")}
    />
  );
}
