import { PartnerPage } from "@/app/partners/PartnerPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Supplier" };

export default async function SupplierPage({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: SearchParams;
}) {
  return (
    <PartnerPage
      area="payables"
      code={decodeURIComponent((await params).code)}
      searchParams={searchParams}
    />
  );
}
