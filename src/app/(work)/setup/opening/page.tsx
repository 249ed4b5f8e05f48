import { Page } from "@/ui/Page";
import { OpeningForm } from "./OpeningForm";

export const metadata = { title: "Opening balances" };

export default function OpeningPage() {
  return (
    <Page title="Opening balances" note="from a file, as one journal that balances">
      <OpeningForm />
    </Page>
  );
}
