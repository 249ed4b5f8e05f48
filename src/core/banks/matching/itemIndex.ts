import { numberKeys, runsOf } from "./textNumbers";
import type { MatchItem, MatchLine } from "./types";

/** How surely a number was read in a text. */
export type Mention = "whole" | "short" | "bare";

/** Items by all that a line can name them by. */
export interface ItemIndex {
  byEndToEnd(id: string): readonly MatchItem[];
  /** What went out in a block of a file of ours. */
  byBatch(id: string): readonly MatchItem[];
  byCheque(number: string): readonly MatchItem[];
  /** What numbers in a text mean, the surest for each item. */
  mentioned(line: MatchLine): Map<MatchItem, Mention>;
  byAmount(line: MatchLine): readonly MatchItem[];
  ofPartner(partner: string): readonly MatchItem[];
}

/** Items that a bare number may mean before it means nothing. */
const MOST_OF_NUMBER = 20;
const ORDER: Record<Mention, number> = { bare: 0, short: 1, whole: 2 };

export function itemIndex(items: readonly MatchItem[]): ItemIndex {
  const endToEnd = new Map<string, MatchItem[]>();
  const batch = new Map<string, MatchItem[]>();
  const cheque = new Map<string, MatchItem[]>();
  const amount = new Map<string, MatchItem[]>();
  const partner = new Map<string, MatchItem[]>();
  const numbers: Record<Mention, Map<string, MatchItem[]>> = {
    whole: new Map(),
    short: new Map(),
    bare: new Map(),
  };
  const add = (to: Map<string, MatchItem[]>, key: string | null, item: MatchItem) => {
    if (!key) return;
    const at = to.get(key);
    if (!at) to.set(key, [item]);
    else if (at.at(-1) !== item) at.push(item);
  };
  for (const i of items) {
    add(endToEnd, plainId(i.endToEnd), i);
    add(batch, plainId(i.batch ?? ""), i);
    add(cheque, i.cheque.replace(/^0+/, ""), i);
    add(amount, `${i.currency}${i.left}`, i);
    add(partner, i.partner, i);
    for (const n of i.numbers) {
      const keys = numberKeys(n);
      if (!keys) continue;
      for (const mention of ["whole", "short", "bare"] as const)
        add(numbers[mention], keys[mention], i);
    }
  }
  return {
    byEndToEnd: (id) => (id ? (endToEnd.get(plainId(id)) ?? []) : []),
    byBatch: (id) => (id ? (batch.get(plainId(id)) ?? []) : []),
    byCheque: (number) => cheque.get(number.replace(/^0+/, "")) ?? [],
    byAmount: (line) => amount.get(`${line.currency}${line.amount}`) ?? [],
    ofPartner: (code) => (code ? (partner.get(code) ?? []) : []),
    mentioned: (line) => {
      const found = new Map<MatchItem, Mention>();
      const { creditorReference: own } = line.keys;
      // A creditor reference of ours is RF, two check digits, and the number of the invoice.
      for (const run of runsOf(`${line.text} ${own} ${own.replace(/^RF\d{2}/i, "")}`))
        for (const mention of ["whole", "short", "bare"] as const) {
          const meant = numbers[mention].get(run) ?? [];
          if (meant.length > MOST_OF_NUMBER) continue;
          for (const i of meant)
            if (isMet(line, i) && ORDER[mention] >= ORDER[found.get(i) ?? "bare"])
              found.set(i, mention);
        }
      return found;
    },
  };
}

const plainId = (id: string): string => id.replace(/\s/g, "").toUpperCase();

/** Whether a line can pay an item at all: its account, its currency, and the way the money goes. */
export const isMet = (line: MatchLine, item: MatchItem): boolean =>
  (item.bank === null || item.bank === line.bank) &&
  item.currency === line.currency &&
  item.left > 0n === line.amount > 0n &&
  (item.carriedOut !== true || line.isReturn) &&
  item.left !== 0n;
