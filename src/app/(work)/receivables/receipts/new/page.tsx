import { listPartners } from "@/server/partners";
import { receivingAccounts } from "@/server/receivables";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { NewReceipt } from "./NewReceipt";

export const metadata = { title: "New receipt" };

export default async function NewReceiptPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const accounts = await receivingAccounts(await pageCaller(), { company: place.company });
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
      accounts={accounts.ok ? accounts.value : []}
    />
  );
}
