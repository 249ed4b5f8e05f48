import { Page } from "@/ui/Page";
import { YearEndForm } from "./YearEndForm";

export const metadata = { title: "Year end" };

export default function YearEndPage() {
  return (
    <Page
      title="Year end"
      note="empties the result accounts of a year into retained earnings, book by book"
    >
      <YearEndForm />
    </Page>
  );
}
