import { PartnerPage } from "@/app/partners/PartnerPage";
import type { SearchParams } from "@/app/lib/place";

export const metadata = { title: "Customer" };

export default async function CustomerPage({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: SearchParams;
}) {
  return (
    <PartnerPage
      area="receivables"
      code={decodeURIComponent((await params).code)}
      searchParams={searchParams}
    />
  );
}
