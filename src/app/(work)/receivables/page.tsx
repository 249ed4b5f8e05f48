import { AgeingPage } from "@/app/partners/AgeingPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Receivables" };

export default function ReceivablesPage({ searchParams }: { searchParams: SearchParams }) {
  return <AgeingPage area="receivables" title="Receivables" searchParams={searchParams} />;
}
