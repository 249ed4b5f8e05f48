import { describeFound } from "@/core/shared";
import { listMandates } from "@/server/receivables";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { MandatesPage } from "./MandatesPage";

export const metadata = { title: "Mandates" };

export default async function Mandates({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const mandates = await listMandates(await pageCaller(), { company: place.company });
  const { person } = await frameData();
  return mandates.ok ? (
    <MandatesPage
      rows={mandates.value}
      partner={address.partner ?? ""}
      mayChange={person.rights.includes("prepare.receivables")}
    />
  ) : (
    <Page title="Mandates">
      <Problems messages={mandates.problems.map(describeFound)} />
    </Page>
  );
}
