import { isAtBank } from "@/core/banks";
import { listBankAccounts } from "@/server/banks";
import { listPartners } from "@/server/partners";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { NewReceipt } from "./NewReceipt";

export const metadata = { title: "New receipt" };

export default async function NewReceiptPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const accounts = await listBankAccounts(await pageCaller(), {});
  const partners = await listPartners(await pageCaller(), { role: "customer" });
  return (
    <NewReceipt
      key={address.customer ?? ""}
      start={address.customer ?? ""}
      customers={
        partners.ok
          ? partners.value.filter((p) => p.customer).map(({ code, name }) => ({ code, name }))
          : []
      }
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
