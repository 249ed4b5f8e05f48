import { redirect } from "next/navigation";
import { placeQuery } from "@/core/organisation";
import { readAddress, type SearchParams } from "@/app/lib/place";

export default async function StatementsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  redirect(`/statements/income-statement?${placeQuery(place)}`);
}
