import { describeFound } from "@/core/shared";
import { postingAccounts } from "@/server/organisation";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { PostingAccounts } from "./PostingAccounts";

export const metadata = { title: "Default accounts" };

export default async function PostingAccountsPage() {
  const result = await postingAccounts(await pageCaller());
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Default accounts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <PostingAccounts
      rows={result.value}
      mayChange={
        person.groupRights.includes("setup.rules") ||
        person.groupRights.includes("setup.organisation")
      }
    />
  );
}
