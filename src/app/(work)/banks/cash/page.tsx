import { describeFound } from "@/core/shared";
import { cashFlows, cashPosition } from "@/server/cash";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { CashView } from "./CashView";

export const metadata = { title: "Cash position" };

/** What all bank accounts hold today, and what is expected to come and go. */
export default async function CashPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const asked = {
    company: place.company,
    all: address.of === "all",
    by: address.by === "day" ? ("day" as const) : ("week" as const),
  };
  const caller = await pageCaller();
  const result = await cashPosition(caller, asked);
  if (!result.ok)
    return (
      <Page title="Cash position">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const flows = address.to ? await cashFlows(caller, { ...asked, to: address.to }) : null;
  return (
    <CashView
      position={result.value}
      all={asked.all}
      by={asked.by}
      flows={flows?.ok ? flows.value : null}
    />
  );
}
