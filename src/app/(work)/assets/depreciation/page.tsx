import { redirect } from "next/navigation";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { placeQuery } from "@/core/organisation";

/** Depreciation is previewed beside what it changes. */
export default async function DepreciationPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  redirect(`/assets?${placeQuery(place)}`);
}
