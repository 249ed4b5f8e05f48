import { isAtBank } from "@/core/banks";
import { describeFound } from "@/core/shared";
import {
  bankCodings,
  getStatementLine,
  listBankAccounts,
  listLineRules,
  listMovementKinds,
} from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { LineRules } from "./LineRules";

export const metadata = { title: "Rules for bank lines" };

export default async function RulesPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const caller = await pageCaller();
  const result = await listLineRules(caller, { company: place.company });
  const codings = await bankCodings(caller, { company: place.company });
  const problems = [result, codings].flatMap((r) => (r.ok ? [] : r.problems.map(describeFound)));
  if (!result.ok || !codings.ok)
    return (
      <Page title="Rules for bank lines">
        <Problems messages={problems} />
      </Page>
    );
  const accounts = await listBankAccounts(caller, {});
  const kinds = await listMovementKinds(caller, {});
  const line = address.line
    ? await getStatementLine(caller, { id: Number(address.line) || 0 })
    : null;
  return (
    <LineRules
      key={address.line ?? ""}
      rows={result.value}
      accounts={
        accounts.ok ? accounts.value.filter((a) => a.company === place.company && isAtBank(a)) : []
      }
      kinds={kinds.ok ? kinds.value.filter((k) => k.account !== "") : []}
      codings={codings.value}
      example={line?.ok ? line.value : null}
    />
  );
}
