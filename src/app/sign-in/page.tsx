import { redirect } from "next/navigation";
import { isInstalled } from "@/server/organisation";
import { getDatabase } from "@/server/runtime";
import { Mark } from "@/ui/Mark";
import { placeOnSite } from "../lib/placeOnSite";
import { currentPerson } from "../lib/session";
import { SignInForm } from "./SignInForm";

export const metadata = { title: "Sign in" };

interface Props {
  searchParams: Promise<{ to?: string | string[] }>;
}

export default async function SignInPage({ searchParams }: Props) {
  const { to } = await searchParams;
  const place = typeof to === "string" ? placeOnSite(to) : null;
  if (await currentPerson()) redirect(place ?? "/today");
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
          <SignInForm to={place ?? ""} />
        </div>
      </div>
    </main>
  );
}
