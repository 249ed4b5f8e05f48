import { amountText, dateText } from "@/core/shared";
import type { CloseCheckKind } from "../checks";
import { itemsAndAccountsOn } from "./openItems";

export const itemsEqualAccounts: CloseCheckKind = {
  code: "open-items",
  name: "Open items equal their control accounts",
  async look(context, { company, to, query }) {
    const apart = (await itemsAndAccountsOn(context, company.id, to)).filter(
      (x) => x.balance !== x.items,
    );
    return {
      state: apart.length === 0 ? "holds" : "fails",
      finding:
        apart.length === 0
          ? `What was left of all items of suppliers and customers on ${dateText(to)} is what their accounts held.`
          : apart
              .map(
                (x) =>
                  `${x.account} held ${amountText(x.balance, company.currency)} on ${dateText(to)}, its items ${amountText(x.items, company.currency)}`,
              )
              .join("; ") + ".",
      door: apart.length === 0 ? null : `/ledger/accounts/${apart[0]!.account}?${query}`,
    };
  },
};
