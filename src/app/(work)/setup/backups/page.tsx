import { describeFound } from "@/core/shared";
import { getBackupPlan, showBackups } from "@/server/backups";
import { booksBackupFolder } from "@/server/runtime";
import { Page, Problems } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { Backups } from "./Backups";

export const metadata = { title: "Backups" };

export default async function BackupsPage() {
  const caller = await pageCaller();
  const plan = await getBackupPlan(caller);
  if (!plan.ok)
    return (
      <Page title="Backups">
        <Problems messages={plan.problems.map(describeFound)} />
      </Page>
    );
  const shown = showBackups(booksBackupFolder(), caller.database.kind);
  return <Backups view={{ ...shown, plan: plan.value }} />;
}
