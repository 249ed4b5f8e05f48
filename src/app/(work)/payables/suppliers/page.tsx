import { PartnerListPage } from "@/app/partners/PartnerListPage";

export const metadata = { title: "Suppliers" };

export default function SuppliersPage() {
  return <PartnerListPage role="supplier" />;
}
