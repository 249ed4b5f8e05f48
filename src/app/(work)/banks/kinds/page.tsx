import { describeFound } from "@/core/shared";
import { bankCodings, listMovementKinds } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { MovementKinds } from "./MovementKinds";

export const metadata = { title: "Kinds of movement" };

export default async function KindsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const result = await listMovementKinds(caller);
  const codings = await bankCodings(caller, { company: place.company });
  const problems = [result, codings].flatMap((r) => (r.ok ? [] : r.problems.map(describeFound)));
  const { person } = await frameData();
  if (!result.ok || !codings.ok)
    return (
      <Page title="Kinds of movement">
        <Problems messages={problems} />
      </Page>
    );
  return (
    <MovementKinds
      rows={result.value}
      codings={codings.value}
      mayChange={person.groupRights.includes("setup.rules")}
    />
  );
}
