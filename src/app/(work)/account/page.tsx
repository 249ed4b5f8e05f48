import { cookies } from "next/headers";
import { readWriting } from "@/core/shared";
import { standInOf } from "@/server/approvals";
import { Page } from "@/ui/Page";
import { signedIn } from "@/app/lib/session";
import { WRITING_COOKIE } from "@/app/lib/writing";
import { listSessions, mySecondFactor } from "@/server/access";
import { PasswordForm } from "./PasswordForm";
import { SecondFactor } from "./SecondFactor";
import { Sessions } from "./Sessions";
import { StandInForm } from "./StandInForm";
import { WritingForm } from "./WritingForm";

export const metadata = { title: "My account" };

export default async function AccountPage() {
  const caller = await signedIn();
  const standIn = await standInOf(caller);
  const sessions = await listSessions(caller);
  const factor = await mySecondFactor(caller);
  return (
    <Page title="My account">
      <div className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-y-auto">
        <div className="grid grid-cols-2 min-[1200px]:grid-cols-3 gap-3">
          <PasswordForm />
          {standIn.ok && <StandInForm now={standIn.value.now} people={standIn.value.people} />}
          <WritingForm now={readWriting((await cookies()).get(WRITING_COOKIE)?.value)} />
        </div>
        {factor.ok && <SecondFactor view={factor.value} />}
        {sessions.ok && <Sessions rows={sessions.value} />}
      </div>
    </Page>
  );
}
