import { amountText, dateText } from "@/core/shared";
import type { CloseCheckKind } from "../checks";
import { subLedgersOn } from "./subLedgersOn";

export const listsEqualAccounts: CloseCheckKind = {
  code: "sub-ledgers",
  name: "Sub-ledgers equal their control accounts",
  async look(context, { company, to, query }) {
    const lists = await subLedgersOn(context, company.id, { on: to });
    const apart = lists.filter((x) => x.held !== x.listed);
    const money = (amount: bigint) => amountText(amount, company.currency);
    if (apart.length === 0)
      return {
        state: "holds",
        finding: `On ${dateText(to)} each list came to what its control accounts held.`,
        door: null,
      };
    return {
      state: "fails",
      finding: `${apart
        .map(
          ({ accounts, held, listed, list }) =>
            `${accounts.join(", ")} held ${money(held)} on ${dateText(to)}, the ${list.lists} came to ${money(listed)}`,
        )
        .join("; ")}.`,
      door: `/ledger/accounts/${apart[0]!.accounts[0]!}?${query}`,
    };
  },
};
