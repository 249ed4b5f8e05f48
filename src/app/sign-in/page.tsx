import { redirect } from "next/navigation";
import { isInstalled } from "@/server/organisation";
import { getDatabase } from "@/server/runtime";
import { Mark } from "@/ui/Mark";
import { currentPerson } from "../lib/session";
import { SignInForm } from "./SignInForm";

export const metadata = { title: "Sign in" };

export default async function SignInPage() {
  if (await currentPerson()) redirect("/today");
  if (!(await isInstalled((await getDatabase()).db))) redirect("/welcome");
  return (
    <main className="grid min-h-screen grid-cols-[68px_1fr]">
      <div className="flex justify-center bg-petrol pt-3">
        <Mark size={30} />
      </div>
      <div className="grid place-items-center">
        <div className="panel w-[340px] p-6">
          <h1 className="mb-1">Yellow Anchor</h1>
          <p className="mb-5 text-ink-2">Sign in to the books.</p>
          <SignInForm />
        </div>
      </div>
    </main>
  );
}
