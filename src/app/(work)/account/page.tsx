import { standInOf } from "@/server/approvals";
import { Page } from "@/ui/Page";
import { signedIn } from "@/app/lib/session";
import { listSessions, mySecondFactor } from "@/server/access";
import { PasswordForm } from "./PasswordForm";
import { SecondFactor } from "./SecondFactor";
import { Sessions } from "./Sessions";
import { StandInForm } from "./StandInForm";

export const metadata = { title: "Password and stand-in" };

export default async function AccountPage() {
  const caller = await signedIn();
  const standIn = await standInOf(caller);
  const sessions = await listSessions(caller);
  const factor = await mySecondFactor(caller);
  return (
    <Page title="Password and stand-in">
      <div className="grid grid-cols-[minmax(0,24rem)_minmax(0,24rem)] gap-3">
        <PasswordForm />
        {standIn.ok && <StandInForm now={standIn.value.now} people={standIn.value.people} />}
      </div>
      {factor.ok && <SecondFactor view={factor.value} />}
      {sessions.ok && <Sessions rows={sessions.value} />}
    </Page>
  );
}
