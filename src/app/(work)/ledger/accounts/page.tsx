import { redirect } from "next/navigation";
import { placeQuery } from "@/core/organisation";
import { readAddress, type SearchParams } from "@/app/lib/place";

/** Accounts are reached from the trial balance. */
export default async function AccountsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  redirect(`/ledger/trial-balance?${placeQuery(place)}`);
}
