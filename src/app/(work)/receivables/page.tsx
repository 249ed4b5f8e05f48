import { ControlAccountsPage } from "@/app/lib/ControlAccountsPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Receivables" };

export default function ReceivablesPage({ searchParams }: { searchParams: SearchParams }) {
  return <ControlAccountsPage area="receivables" title="Receivables" searchParams={searchParams} />;
}
