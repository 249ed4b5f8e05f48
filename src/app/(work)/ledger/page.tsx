import { redirect } from "next/navigation";
import { placeQuery } from "@/core/organisation";
import { readAddress, type SearchParams } from "@/app/lib/place";

export default async function LedgerPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  redirect(`/ledger/trial-balance?${placeQuery(place)}`);
}
