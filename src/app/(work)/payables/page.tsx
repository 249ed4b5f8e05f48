import { AgeingPage } from "@/app/partners/AgeingPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Payables ageing" };

export default function PayablesPage({ searchParams }: { searchParams: SearchParams }) {
  return <AgeingPage area="payables" title="Payables ageing" searchParams={searchParams} />;
}
