import { AREAS } from "@/core/access";
import { periodKey, periodName, stateOf } from "@/core/organisation";
import type { CloseCheckKind } from "../checks";

export const earlierClosed: CloseCheckKind = {
  code: "earlier",
  name: "Earlier periods are closed",
  async look({ masters }, { company, bookId, all, closing, from }) {
    const chosen = new Set(closing.map(periodKey));
    const earlier = all.filter(
      (p) =>
        (p.start < from || (p.start === from && p.no < closing[0]!.no)) &&
        !chosen.has(periodKey(p)) &&
        stateOf(p, bookId, "ledger") !== "closed" &&
        !(p.adjustment && p.end >= from),
    );
    return {
      state: earlier.length === 0 ? "holds" : "fails",
      finding:
        earlier.length === 0
          ? "Every period before this one is closed."
          : `${periodName(earlier[0]!)} is ${stateOf(earlier[0]!, bookId, "ledger").replace("not-yet", "not yet open")}.`,
      door:
        earlier.length === 0
          ? null
          : `/close?company=${company.code}&book=${masters.bookById.get(bookId)!.code}&period=${periodKey(earlier[0]!)}`,
    };
  },
};

export const areasClosed: CloseCheckKind = {
  code: "areas",
  name: "Areas have closed the period",
  async look(_context, { bookId, closing, query }) {
    const open = AREAS.filter((a) => a !== "ledger" && a !== "stock").filter((a) =>
      closing.some((p) => !p.adjustment && stateOf(p, bookId, a) !== "closed"),
    );
    return {
      state: open.length === 0 ? "holds" : "warns",
      finding:
        open.length === 0
          ? "Payables, receivables, banks and assets are closed."
          : `Still open: ${open.join(", ")}. Nothing more can reach the ledger from there once it closes.`,
      door: open.length === 0 ? null : `/setup/periods?${query}`,
    };
  },
};
