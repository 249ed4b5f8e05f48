import { standInOf } from "@/server/approvals";
import { Page } from "@/ui/Page";
import { pageCaller } from "@/app/lib/session";
import { PasswordForm } from "./PasswordForm";
import { StandInForm } from "./StandInForm";

export const metadata = { title: "Password and stand-in" };

export default async function AccountPage() {
  const standIn = await standInOf(await pageCaller());
  return (
    <Page title="Password and stand-in">
      <div className="grid grid-cols-[minmax(0,24rem)_minmax(0,24rem)] gap-3">
        <PasswordForm />
        {standIn.ok && <StandInForm now={standIn.value.now} people={standIn.value.people} />}
      </div>
    </Page>
  );
}
