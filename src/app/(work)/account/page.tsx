import { standInOf } from "@/server/approvals";
import { Page } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { listSessions } from "@/server/access";
import { PasswordForm } from "./PasswordForm";
import { Sessions } from "./Sessions";
import { StandInForm } from "./StandInForm";

export const metadata = { title: "Password and stand-in" };

export default async function AccountPage() {
  const caller = await pageCaller();
  const standIn = await standInOf(caller);
  const sessions = await listSessions(caller);
  return (
    <Page title="Password and stand-in">
      <div className="grid grid-cols-[minmax(0,24rem)_minmax(0,24rem)] gap-3">
        <PasswordForm />
        {standIn.ok && <StandInForm now={standIn.value.now} people={standIn.value.people} />}
      </div>
      {sessions.ok && <Sessions rows={sessions.value} />}
    </Page>
  );
}
