import { codingOfKind } from "@/core/banks";
import { describeFound } from "@/core/shared";
import {
  bankCodings,
  getStatementLine,
  lineTotals,
  listBankAccounts,
  listMovementKinds,
  listStatementLines,
} from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { startOfList } from "@/app/lib/listPage";
import { frameData, listAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LinesDesk } from "./LinesDesk";

export const metadata = { title: "Statement lines" };

export default async function LinesPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, text, input } = await listAddress(searchParams, []);
  const status = address.status ?? "open";
  const asked = {
    ...input,
    status,
    bank: address.bank ?? "",
    statement: address.statement ?? "",
  };
  const caller = await pageCaller();
  const [result, totals, banks, kinds, codings, line] = await Promise.all([
    listStatementLines(caller, asked),
    lineTotals(caller, { company: asked.company, bank: asked.bank }),
    listBankAccounts(caller),
    listMovementKinds(caller),
    bankCodings(caller, { company: asked.company }),
    address.line ? getStatementLine(caller, { id: address.line }) : null,
  ]);
  if (!result.ok)
    return (
      <Page title="Statement lines">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { today } = await frameData();
  return (
    <LinesDesk
      list={await startOfList("statement-lines", result.value, asked)}
      totals={totals.ok ? totals.value : []}
      line={line?.ok ? line.value : null}
      status={status}
      bank={asked.bank}
      text={text}
      today={today}
      banks={(banks.ok ? banks.value : [])
        .filter((b) => b.company === asked.company)
        .map((b) => ({ code: b.code, name: b.name }))}
      kinds={(kinds.ok ? kinds.value : [])
        .filter((k) => k.account !== "")
        .map((k) => ({ code: k.code, name: k.name, coding: codingOfKind(k) }))}
      codings={codings.ok ? codings.value : null}
    />
  );
}
