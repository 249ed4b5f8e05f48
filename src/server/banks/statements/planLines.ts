import {
  codingOfKind,
  exchangeJournal,
  lineJournal,
  returnWords,
  type CodingFacts,
  type LineCoding,
  type LineOutcome,
  type LineToPost,
  type SettledItem,
} from "@/core/banks";
import { conversionOn, convertBy, rateProblem, type Conversion } from "@/core/rates";
import { amountText, describeFound, minor, ok, type Minor, type Result } from "@/core/shared";
import type { TaxDirection, TaxTakenBack } from "@/core/taxes";
import type { TaxSum } from "@/core/trade";
import type { JournalDraft, Masters } from "@/core/ledger";
import type { Context } from "../../access";
import { ratesFor } from "../../rates";
import { taxDays, taxesOfItems, type TaxDay } from "../../taxes";
import { codedAmount, codingFacts } from "../codings";
import { moneyAccounts } from "../moneyAccounts";
import { transferFacts } from "./transferFacts";
import { itemsOfLines, readKinds, type ItemToTake, type Kind } from "./lineFacts";

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
  /** Whose money it is, where a partner's moved with no payment of ours before. */
  money?: { bank: number; partner: string; payee: string; amount: Minor; currency: string };
  /** What discounts take back of the taxes of what it settles. */
  taxesBack?: TaxTakenBack[];
  /** The tax that is in it, and the rate into the company's currency; left out where there is none. */
  tax?: { sum: TaxSum; direction: TaxDirection; rate: Conversion; currency: string };
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
  const taxes = await taxesOfItems(
    tx,
    lines.flatMap((l) => l.outcome.takes.flatMap((t) => (t.discount === "0" ? [] : [t.item]))),
  );
  const kinds = await readKinds(tx);
  const facts = await codingFacts(context, company.code);
  const taxDay = await taxDaysOf(context, company, lines);
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
          leftOut: describeFound(
            rateProblem(rates, "spot", l.currency, company.currency, l.booked),
          ),
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
      const place = placeOfRest(context, l, { outcome, takes, rest, side, kinds, facts });
      if ("leftOut" in place) return place;
      const taxed =
        place.tax !== null || takes.some((t) => taxes.has(t.item.id) && t.discount !== 0n);
      const late = taxed ? undeclared(taxDay.get(l.booked)) : null;
      if (late) return { leftOut: late };
      const made = lineJournal(
        {
          booked: l.booked,
          amount: minor(l.amount),
          currency: l.currency,
          rate,
          partner: outcome.partner,
          payee: l.name || kinds.get(outcome.kind)?.name || "",
          text: l.text,
          takes: takes.map((t) => ({ ...t, taxes: taxes.get(t.item.id) })),
          rest,
          restTo: place.to,
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
          ...(made.taxes.length > 0 ? { taxesBack: [...made.taxes] } : {}),
          ...moneyOf(l, outcome.partner, takes, place),
          ...taxOfPlace(place, facts, { rate, currency: l.currency }),
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

/** Whose money a line is: of whoever's items it settles, or on whose account it stays. */
function moneyOf(
  l: DecidedLine,
  payer: string,
  takes: readonly { item: ItemToTake }[],
  place: Exclude<Place, { leftOut: string }>,
): Pick<Posted, "money"> {
  const first = takes.find((t) => t.item.control !== "transit")?.item;
  const onAccount = place.to && "partner" in place.to ? place.to.partner : "";
  const partner = (first && (payer || first.partner)) ?? onAccount;
  if (partner === "") return {};
  const name = first?.partner === partner ? first.partnerName : "";
  const payee = name || l.name || partner;
  const { bankId: bank, currency } = l;
  return { money: { bank, partner, payee, amount: minor(l.amount), currency } };
}

/** The tax in what is left, as it will be recorded. */
const taxOfPlace = (
  { tax }: { tax: TaxSum | null },
  facts: CodingFacts,
  of: { rate: Conversion; currency: string },
): Pick<Posted, "tax"> =>
  tax === null
    ? {}
    : { tax: { sum: tax, direction: facts.taxCodes.get(tax.code)!.direction, ...of } };

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

type Place = { to: LineToPost["restTo"]; tax: TaxSum | null } | { leftOut: string };

/** Where what is left of a line goes, with the tax in it; or why it can't be posted. */
function placeOfRest(
  context: Context,
  line: DecidedLine,
  {
    outcome,
    takes,
    rest,
    side,
    kinds,
    facts,
  }: {
    outcome: LineOutcome;
    takes: readonly { item: ItemToTake }[];
    rest: Minor;
    side: { place: LineToPost["restTo"] } | undefined;
    kinds: ReadonlyMap<string, Kind>;
    facts: CodingFacts;
  },
): Place {
  if (rest === 0n) return { to: null, tax: null };
  const coding = side ? null : codingOfRest(context.masters, outcome, kinds);
  if (coding) {
    const made = codedAmount(context, coding, rest, line, facts);
    return made.ok
      ? { to: { parts: made.value.parts }, tax: made.value.tax }
      : { leftOut: made.problems.map(describeFound).join("; ") };
  }
  const to = side ? side.place : onPartner(outcome, takes);
  return to === null
    ? { leftOut: "What is left of it has no account yet; give it a coding" }
    : { to, tax: null };
}

/** The coding of what is left; null where it stays on an account of a partner. */
function codingOfRest(
  masters: Masters,
  outcome: LineOutcome,
  kinds: ReadonlyMap<string, Kind>,
): LineCoding | null {
  if (outcome.onAccount) return null;
  if (outcome.writeOff) {
    const account = masters.purposes.writeOff;
    const text = `Written off: ${outcome.writeOff}`;
    return account ? { account, dimensions: {}, text } : null;
  }
  const kind = kinds.get(outcome.kind);
  return outcome.coding ?? (kind && kind.account !== "" ? codingOfKind(kind) : null);
}

function onPartner(
  outcome: LineOutcome,
  takes: readonly { item: ItemToTake }[],
): LineToPost["restTo"] {
  if (!outcome.onAccount) return null;
  const first = takes.find((t) => t.item.control !== "transit")?.item;
  if (first) return { partner: outcome.partner || first.partner, account: first.account };
  return outcome.account ? { partner: outcome.partner, account: outcome.account } : null;
}

const undeclared = (day: TaxDay | undefined): string | null =>
  day?.problem ? describeFound(day.problem) : null;

/** Where taxes of the lines' days are reported, by day. */
async function taxDaysOf(
  { tx }: Context,
  company: Company,
  lines: readonly DecidedLine[],
): Promise<ReadonlyMap<string, TaxDay>> {
  const days = [...new Set(lines.map((l) => l.booked))];
  const found = await taxDays(
    tx,
    days.map((day) => ({ companyId: company.id, day, period: "" })),
  );
  return new Map(days.map((day, i) => [day, found[i]!]));
}
