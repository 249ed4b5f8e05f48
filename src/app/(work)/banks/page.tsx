import { ControlAccountsPage } from "@/app/lib/ControlAccountsPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Banks" };

export default function BanksPage({ searchParams }: { searchParams: SearchParams }) {
  return <ControlAccountsPage area="banks" title="Banks" searchParams={searchParams} />;
}
