import { PartnerListPage } from "@/app/partners/PartnerListPage";

export const metadata = { title: "Customers" };

export default function CustomersPage() {
  return <PartnerListPage role="customer" />;
}
