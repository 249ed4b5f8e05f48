import { ControlAccountsPage } from "@/app/lib/ControlAccountsPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Assets" };

export default function AssetsPage({ searchParams }: { searchParams: SearchParams }) {
  return <ControlAccountsPage area="assets" title="Assets" searchParams={searchParams} />;
}
