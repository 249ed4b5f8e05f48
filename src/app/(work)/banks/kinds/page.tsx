import { describeFound } from "@/core/shared";
import { listMovementKinds } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { MovementKinds } from "./MovementKinds";

export const metadata = { title: "Kinds of movement" };

export default async function KindsPage() {
  const result = await listMovementKinds(await pageCaller());
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Kinds of movement">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <MovementKinds rows={result.value} mayChange={person.groupRights.includes("setup.rules")} />
  );
}
