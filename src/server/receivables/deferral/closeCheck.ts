import { toRelease } from "@/core/receivables";
import { amountText, minor } from "@/core/shared";
import type { CloseCheckKind } from "../../checks";
import { waitingOf } from "./waiting";

export const revenueReleased: CloseCheckKind = {
  code: "deferred",
  name: "What was invoiced ahead and is earned has been released",
  async look({ tx, masters }, { company, to, query }) {
    const waiting = await waitingOf(tx, company.id, to, "all");
    const due = minor(
      waiting.reduce(
        (t, w) => t + toRelease(minor(w.amount), w, w.method, to, minor(w.released)),
        0n,
      ),
    );
    if (due === 0n)
      return { state: "holds", finding: "No deferred revenue is left to release.", door: null };
    const { currency } = masters.companyByCode.get(company.code)!;
    return {
      state: "warns",
      finding: `${amountText(due, currency)} ${currency} of deferred revenue is earned and not released.`,
      door: `/receivables/deferrals?${query}`,
    };
  },
};
