import {
  exchangeJournal,
  lineJournal,
  returnWords,
  type LineOutcome,
  type SettledItem,
} from "@/core/banks";
import { conversionOn, convertBy, type Conversion } from "@/core/rates";
import { amountText, dateText, minor, ok, type Minor, type Result } from "@/core/shared";
import { withUsualValues, type JournalDraft, type Masters } from "@/core/ledger";
import type { Context } from "../../access";
import { ratesFor } from "../../rates";
import { moneyAccounts } from "../moneyAccounts";
import { transferFacts } from "./transferFacts";
import { itemsOfLines, readKinds, type ItemToTake } from "./lineFacts";

export interface DecidedLine {
  id: bigint;
  bankId: number;
  bank: string;
  account: string;
  statement: string;
  currency: string;
  booked: string;
  amount: bigint;
  name: string;
  text: string;
  returnReason: string;
  /** The usual values of its bank account, by dimension. */
  usual: Record<string, string>;
  outcome: LineOutcome;
  reasons: { says: string; weight: number }[] | null;
  by: string | null;
}

/** What posting needs again: by the place of its draft, the line and what it settles. */
export interface Posted {
  line: number;
  settles: SettledItem[];
  settling: number;
  /** Payments that come back by it, which are undone first. */
  returned: { payment: number; why: string }[];
  /** The line that is its other side and posted as well: what both leave settles each other. */
  other: number | null;
}

/** What stands in the way of a line: it comes again once that is mended. */
type Planned = { draft: JournalDraft; posted: Posted } | { leftOut: string };

interface Company {
  id: number;
  code: string;
  name: string;
  currency: string;
}

interface Planner {
  of(l: DecidedLine): Planned;
  /** That a line is part of the run: what it takes is not there for those behind it. */
  take(posted: Posted): void;
  /** The line's amount in the company's currency. */
  own(l: DecidedLine): Minor;
}

/** What plans lines one after the other, each knowing what those before it have taken. */
export async function planner(
  context: Context,
  company: Company,
  lines: readonly DecidedLine[],
): Promise<Result<Planner>> {
  const { tx, masters } = context;
  const found = moneyAccounts(context, company);
  if (!found.ok) return found;
  const accounts = found.value;
  const transfers = await transferFacts(context, company, lines);
  const items = new Map(
    (
      await itemsOfLines(tx, company.id, [
        ...lines.flatMap((l) => l.outcome.takes.map((t) => t.item)),
        ...[...transfers.values()].flatMap((t) => (t.item === null ? [] : [t.item])),
      ])
    ).map((i) => [i.id, i]),
  );
  // What comes back is taken of the item that cleared it.
  const byPlace = new Map([...items.values()].map((i) => [i.comesBack?.cleared ?? i.id, i]));
  const kinds = await readKinds(tx);
  const rates = await ratesFor(
    tx,
    masters,
    lines.map((l) => ({ companies: [company.code], currency: l.currency, date: l.booked })),
  );
  const rateOf = (l: DecidedLine) =>
    conversionOn(rates, "spot", l.currency, company.currency, l.booked);
  return ok({
    own: (l) => {
      const rate = rateOf(l);
      return rate === null
        ? minor(0n)
        : convertBy(minor(l.amount), l.currency, company.currency, rate);
    },
    of: (l) => {
      const rate = rateOf(l);
      if (rate === null)
        return {
          leftOut: `No rate from ${l.currency} to ${company.currency} is known for ${dateText(l.booked)}`,
        };
      const side = transfers.get(l.id);
      // The day of the other side has another rate: what that leaves is taken, with the difference.
      if (side?.other && l.currency !== company.currency && l.booked > side.other.booked)
        return {
          leftOut: `The line of ${side.other.bank} is posted first; this one in the next run`,
        };
      const otherItem = items.get(side?.item ?? 0);
      if (side?.currency && side.currency !== l.currency) {
        if (otherItem) return exchangedLine(l, otherItem, accounts, rate);
        // Of two sides in two currencies the first is under way, and the second takes that.
        if (side.other && isBefore(side.other, l))
          return {
            leftOut: `The line of ${side.other.bank} is posted first; this one in the next run`,
          };
      }
      const outcome = takenOver(l, otherItem);
      const takes: { item: ItemToTake; amount: Minor; discount: Minor }[] = [];
      for (const t of outcome.takes) {
        const item = items.get(t.item);
        const amount = minor(BigInt(t.amount));
        if (!item || !isWithin(amount, item.left)) return { leftOut: gone(item, l.currency) };
        takes.push({ item: { ...item }, amount, discount: minor(BigInt(t.discount)) });
      }
      const rest = minor(BigInt(outcome.rest));
      const restTo =
        rest === 0n
          ? null
          : side
            ? side.place
            : placeOfRest(masters, outcome, takes, kinds, l.usual);
      if (rest !== 0n && restTo === null)
        return { leftOut: "What is left of it has no account yet; give it a coding" };
      const made = lineJournal(
        {
          booked: l.booked,
          amount: minor(l.amount),
          currency: l.currency,
          rate,
          payee: l.name || kinds.get(outcome.kind)?.name || "",
          text: l.text,
          takes,
          rest,
          restTo,
        },
        { ...accounts, underWay: l.account },
      );
      return {
        draft: made.draft,
        posted: {
          line: Number(l.id),
          settles: made.settles.map((s) => ({
            ...s,
            item: items.get(s.item)!.comesBack?.cleared ?? s.item,
          })),
          settling: made.settling,
          returned: takes.flatMap(({ item }) =>
            item.comesBack
              ? [{ payment: item.comesBack.payment, why: returnWords(l.returnReason) }]
              : [],
          ),
          other: side?.other && side.currency === l.currency ? Number(side.other.id) : null,
        },
      };
    },
    take: ({ settles }) => {
      for (const s of settles) {
        const item = byPlace.get(s.item)!;
        item.left = minor(item.left - s.taken);
        item.leftFunctional = minor(item.leftFunctional - s.functional);
      }
    },
  });
}

const isBefore = (a: DecidedLine, b: DecidedLine): boolean =>
  a.booked < b.booked || (a.booked === b.booked && a.id < b.id);

/** A line whose other side, in another currency, is under way: it takes that, with the difference. */
function exchangedLine(
  l: DecidedLine,
  item: ItemToTake,
  accounts: Parameters<typeof exchangeJournal>[2],
  rate: Conversion,
): Planned {
  const made = exchangeJournal(
    {
      booked: l.booked,
      amount: minor(l.amount),
      currency: l.currency,
      rate,
      account: l.account,
      text: l.text,
    },
    item,
    accounts,
  );
  return {
    draft: made.draft,
    posted: {
      line: Number(l.id),
      settles: [...made.settles],
      settling: made.settling,
      returned: [],
      other: null,
    },
  };
}

/** What a line is where its other side has left an item: that is taken. */
const takenOver = (l: DecidedLine, item: ItemToTake | undefined): LineOutcome =>
  item && item.left === l.amount
    ? {
        ...l.outcome,
        takes: [{ item: item.id, amount: String(item.left), discount: "0" }],
        rest: "0",
      }
    : l.outcome;

const isWithin = (amount: bigint, left: bigint): boolean =>
  left > 0n ? amount > 0n && amount <= left : amount < 0n && amount >= left;

const gone = (item: ItemToTake | undefined, currency: string): string =>
  item && item.left !== 0n
    ? `${item.reference} has only ${amountText(item.left, currency)} left; decide again`
    : "What it takes is not open any more; decide again";

function placeOfRest(
  masters: Masters,
  outcome: LineOutcome,
  takes: readonly { item: ItemToTake }[],
  kinds: ReadonlyMap<string, { name: string; account: string; dimensions: Record<string, string> }>,
  usual: Readonly<Record<string, string>>,
) {
  if (outcome.onAccount) {
    const first = takes.find((t) => t.item.control !== "transit")?.item;
    if (first) return { partner: first.partner, account: first.account };
    return outcome.account ? { partner: outcome.partner, account: outcome.account } : null;
  }
  if (outcome.writeOff) {
    const account = masters.purposes.writeOff;
    const text = `Written off: ${outcome.writeOff}`;
    return account ? { coding: { account, dimensions: {}, text } } : null;
  }
  if (outcome.coding)
    return {
      coding: {
        ...outcome.coding,
        dimensions: withUsualValues(masters, outcome.coding, usual),
      },
    };
  const kind = kinds.get(outcome.kind);
  return kind && kind.account !== ""
    ? {
        coding: {
          account: kind.account,
          dimensions: withUsualValues(masters, kind, usual),
          text: kind.name,
        },
      }
    : null;
}
