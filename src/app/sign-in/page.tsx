import { redirect } from "next/navigation";
import { isDemo, isInstalled } from "@/server/organisation";
import { getDatabase } from "@/server/runtime";
import { Mark } from "@/ui/Mark";
import { placeOnSite } from "../lib/placeOnSite";
import { currentPerson } from "../lib/session";
import { DEMO_PASSWORD, DEMO_PEOPLE } from "@/demo/people";
import { SignInForm } from "./SignInForm";

export const metadata = { title: "Sign in" };

interface Props {
  searchParams: Promise<{ to?: string | string[] }>;
}

export default async function SignInPage({ searchParams }: Props) {
  const { to } = await searchParams;
  const place = typeof to === "string" ? placeOnSite(to) : null;
  if (await currentPerson()) redirect(place ?? "/today");
  const { db } = await getDatabase();
  if (!(await isInstalled(db))) redirect("/welcome");
  const demo = (await isDemo(db)) ? { people: DEMO_PEOPLE, password: DEMO_PASSWORD } : null;
  return (
    <main className="grid min-h-screen grid-cols-[68px_1fr]">
      <div className="flex justify-center bg-petrol pt-3">
        <Mark size={30} />
      </div>
      <div className="grid place-items-center">
        <div className={`panel p-6 ${demo ? "w-[760px]" : "w-[340px]"}`}>
          <h1 className="mb-1">Yellow Anchor</h1>
          <p className="mb-5 text-ink-2">Sign in to the books.</p>
          <SignInForm to={place ?? ""} demo={demo} />
        </div>
      </div>
    </main>
  );
}
