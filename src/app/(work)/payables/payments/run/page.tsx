import { isAtBank } from "@/core/banks";
import { describeFound } from "@/core/shared";
import { listBankAccounts } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { PaymentRunForm } from "./PaymentRunForm";

export const metadata = { title: "Payment run" };

export default async function PaymentRunPage() {
  const banks = await listBankAccounts(await pageCaller());
  if (!banks.ok)
    return (
      <Page title="Payment run">
        <Problems messages={banks.problems.map(describeFound)} />
      </Page>
    );
  return (
    <PaymentRunForm
      banks={banks.value.filter(isAtBank).map(({ code, name, company, companyName, currency }) => ({
        code,
        name,
        company,
        companyName,
        currency,
      }))}
    />
  );
}
