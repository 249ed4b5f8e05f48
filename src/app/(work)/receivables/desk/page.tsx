import { redirect } from "next/navigation";
import { describeFound } from "@/core/shared";
import { collectionsDesk, deskCustomer } from "@/server/receivables";
import { listCollectors } from "@/server/partners";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { DeskPage } from "./DeskPage";

export const metadata = { title: "Collections desk" };

/** The desk of whoever opens it, where customers are theirs; else that of all. */
export default async function CollectionsPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const { person } = await frameData();
  const { company } = place;
  const text = address.text ?? "";
  const asked = address.collector;
  const own =
    asked === undefined
      ? await collectionsDesk(caller, { company, collector: person.login, text })
      : null;
  const mine = own?.ok === true && own.value.of > 0;
  const collector = asked === "all" ? "" : (asked ?? (mine ? person.login : ""));
  const desk = mine ? own : await collectionsDesk(caller, { company, collector, text });
  if (!desk.ok)
    return (
      <Page strip={<PeriodStrip />} title="Collections desk">
        <Problems messages={desk.problems.map(describeFound)} />
      </Page>
    );
  const first = desk.value.rows[0]?.code;
  // Who is in hand stands in the address, and stays in hand though what is done changes the order.
  if (!address.partner && first)
    redirect(`/receivables/desk?${new URLSearchParams({ ...address, partner: first })}`);
  const customer = address.partner
    ? await deskCustomer(caller, { company, partner: address.partner })
    : null;
  const people = await listCollectors(caller);
  return (
    <DeskPage
      desk={desk.value}
      customer={customer?.ok ? customer.value : null}
      collector={collector}
      people={people.ok ? people.value : []}
      text={text}
    />
  );
}
