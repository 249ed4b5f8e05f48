import { TermsPage } from "@/app/partners/TermsPage";

export const metadata = { title: "Terms of payment" };

export default TermsPage;
