import { redirect } from "next/navigation";
import { isInstalled } from "@/server/organisation";
import { getDatabase } from "@/server/runtime";
import { Mark } from "@/ui/Mark";
import { WelcomeForm } from "./WelcomeForm";

export const metadata = { title: "Welcome" };

export default async function WelcomePage() {
  if (await isInstalled((await getDatabase()).db)) redirect("/sign-in");
  return (
    <main className="grid min-h-screen grid-cols-[68px_1fr]">
      <div className="flex justify-center bg-petrol pt-3">
        <Mark size={30} />
      </div>
      <div className="grid place-items-center py-8">
        <div className="panel w-[640px] p-6">
          <h1 className="mb-1">Yellow Anchor</h1>
          <p className="mb-5 text-ink-2">
            These books are empty. Name the first company and yourself; everything else can be set
            up later.
          </p>
          <WelcomeForm />
        </div>
      </div>
    </main>
  );
}
