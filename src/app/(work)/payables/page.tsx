import { ControlAccountsPage } from "@/app/lib/ControlAccountsPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Payables" };

export default function PayablesPage({ searchParams }: { searchParams: SearchParams }) {
  return <ControlAccountsPage area="payables" title="Payables" searchParams={searchParams} />;
}
