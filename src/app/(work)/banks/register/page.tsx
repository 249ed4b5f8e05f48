import { describeFound } from "@/core/shared";
import { bankCodings, bankRegister, listBankAccounts, listMovementKinds } from "@/server/banks";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { RegisterView } from "./RegisterView";

export const metadata = { title: "Bank register" };

/** Every movement of a bank account or cash box in the period, or from one period to another. */
export default async function RegisterPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const periods =
    (await frameData()).companies.find((c) => c.code === place.company)?.periods ?? [];
  const caller = await pageCaller();
  const all = await listBankAccounts(caller, {});
  const accounts = all.ok ? all.value.filter((a) => a.company === place.company) : [];
  const usual = accounts.find((a) => a.kind !== "cash") ?? accounts[0];
  const bank = address.account ?? usual?.code ?? "";
  const span = {
    from: periods.find((p) => p.key === place.from)?.start ?? "",
    to: periods.find((p) => p.key === place.period)?.end ?? "",
  };
  const kinds = await listMovementKinds(caller, {});
  const codings = await bankCodings(caller, { company: place.company });
  const result =
    bank === "" ? null : await bankRegister(caller, { company: place.company, bank, ...span });
  if (result && !result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Bank register">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <RegisterView
      register={result?.value ?? null}
      accounts={accounts.map(({ id, code, name, currency, kind }) => ({
        id,
        code,
        name,
        currency,
        kind,
      }))}
      codings={codings.ok ? codings.value : null}
      kinds={(kinds.ok ? kinds.value : []).filter((k) => k.account !== "")}
    />
  );
}
