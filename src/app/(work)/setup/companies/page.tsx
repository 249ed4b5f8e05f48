import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { companyList } from "@/server/organisation";
import { describeFound } from "@/core/shared";
import { Page, Problems } from "@/ui/Page";
import { Companies } from "./Companies";

export const metadata = { title: "Companies" };

export default async function CompaniesPage() {
  const result = await companyList(await pageCaller());
  const { person } = await frameData();
  return result.ok ? (
    <Companies rows={result.value} mayChange={person.groupRights.includes("setup.organisation")} />
  ) : (
    <Page title="Companies">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
