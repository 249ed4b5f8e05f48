import { isAtBank } from "@/core/banks";
import { listBankAccounts, listMovementKinds } from "@/server/banks";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { NewDeposit } from "./NewDeposit";

export const metadata = { title: "New deposit slip" };

export default async function NewDepositPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const accounts = await listBankAccounts(await pageCaller(), {});
  const kinds = await listMovementKinds(await pageCaller(), {});
  return (
    <NewDeposit
      kinds={kinds.ok ? kinds.value.filter((k) => k.account !== "") : []}
      accounts={
        accounts.ok
          ? accounts.value.filter(
              (a) => a.company === place.company && a.closedOn === null && isAtBank(a),
            )
          : []
      }
    />
  );
}
