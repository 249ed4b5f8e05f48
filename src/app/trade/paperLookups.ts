import type { Terms } from "@/core/openItems";
import type { Result } from "@/core/shared";
import type { TaxCode } from "@/core/taxes";
import type { CodingLookups } from "@/ui/grid/coding";
import { shownFigures } from "@/ui/writing";
import type { Named, PaperLookups } from "./paperGrid";

/** What trade documents are written with, of what the server lists; what is blocked is left out. */
export function paperLookups(
  coding: CodingLookups,
  listed: {
    terms: Result<{ code: string; name: string; terms: Terms }[]>;
    taxes: Result<TaxCode[]>;
    shares: Result<Named[]>;
  },
): PaperLookups {
  const taxes = listed.taxes.ok ? listed.taxes.value.filter((t) => !t.blocked) : [];
  const named = (list: readonly Named[]) => list.map(({ code, name }) => ({ code, name }));
  return {
    ...coding,
    terms: named(listed.terms.ok ? listed.terms.value : []),
    shares: named(listed.shares.ok ? listed.shares.value : []),
    withheld: named(taxes.filter((t) => t.kind === "withheld")),
    taxes: taxes
      .filter((t) => t.kind !== "withheld")
      .map((t) => ({
        code: t.code,
        name: `${t.name}, ${shownFigures(t.rates.at(-1)?.percent ?? "0")} %`,
      })),
  };
}
