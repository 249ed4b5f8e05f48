import type { OwedElsewhere as Owed } from "@/server/openItems";
import { Fact } from "@/ui/Page";
import { shownAmount } from "@/ui/writing";

/** What of a document is owed in other currencies by now, beside what is open in its own. */
export function OwedElsewhere({ owed }: { owed: readonly Owed[] }) {
  return owed.map(({ currency, left }) => (
    <Fact key={currency} label={`Open in ${currency} instead`} tone={left === 0n ? "good" : "bad"}>
      {shownAmount(left, currency)}
    </Fact>
  ));
}
