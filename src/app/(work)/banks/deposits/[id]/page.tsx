import { describeFound } from "@/core/shared";
import { getDeposit, listMovementKinds } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { DepositView } from "./DepositView";

export const metadata = { title: "Deposit slip" };

export default async function DepositPage({ params }: { params: Promise<{ id: string }> }) {
  const caller = await pageCaller();
  const result = await getDeposit(caller, { id: Number((await params).id) || 0 });
  if (!result.ok)
    return (
      <Page title="Deposit slip">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const kinds = await listMovementKinds(caller, {});
  return (
    <DepositView
      slip={result.value}
      kinds={kinds.ok ? kinds.value.filter((k) => k.account !== "") : []}
    />
  );
}
