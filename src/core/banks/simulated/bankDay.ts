import { addDays, minor, type CalendarDate, type Minor } from "../../shared";
import type { AccountKind } from "../bankRecord";
import {
  lineOn,
  NO_KEYS,
  NO_PARTY,
  type BankStatement,
  type SomeLine,
  type StatementLine,
} from "../statements";
import { customersMoney, PLAINLY, WAYS_OF_WRITING, type OwedItem } from "./customersWriting";

/** A payment of ours that the bank has not executed yet, or has. */
export interface SentPayment {
  number: string;
  payee: string;
  /** What goes out, without sign. */
  amount: Minor;
  date: CalendarDate;
  /** The number of its cheque; "" for a transfer. */
  cheque: string;
  /** The id of the file that it was sent in; "" for none. */
  file: string;
}

/** Money that another bank has sent from an account of our own. */
export interface ArrivingTransfer {
  number: string;
  payer: string;
  /** The account that it comes from. */
  account: string;
  amount: Minor;
}

/** What was handed in: cheques and cash on a slip, or a bill of exchange. */
export interface HandedIn {
  /** As the bank names it in its text. */
  text: string;
  amount: Minor;
  /** The day from which on it is credited. */
  from: CalendarDate;
}

/** A customer's cheque of a slip that the bank has credited. */
export interface CreditedCheque {
  cheque: string;
  payer: string;
  /** The slip that it was on. */
  slip: string;
  amount: Minor;
}

/** A direct debit of ours that has come to the bank in a file. */
export interface SentDebit {
  number: string;
  payer: string;
  account: string;
  mandate: string;
  amount: Minor;
  /** The block of the file that it stands in, which is booked as one. */
  block: string;
  /** The day on which the customer is debited. */
  date: CalendarDate;
}

/** What the bank knows on a day. */
export interface BankDayFacts {
  /** The account as a statement names it. */
  account: string;
  kind: AccountKind;
  currency: string;
  /** The number of the statement. */
  number: string;
  /** The day of the statement before, and what it closed with. */
  from: CalendarDate;
  opening: Minor;
  day: CalendarDate;
  /** What has come to the bank and is not executed. */
  sent: readonly SentPayment[];
  /** What it executed on its last day: some of that comes back. */
  executed: readonly SentPayment[];
  arriving?: readonly ArrivingTransfer[];
  handedIn?: readonly HandedIn[];
  /** Cheques that it credited on its last day: some of them are not paid. */
  credited?: readonly CreditedCheque[];
  /** Direct debits that have come and are not carried out. */
  debits?: readonly SentDebit[];
  /** Those that it credited on its last day: some of them come back. */
  debited?: readonly SentDebit[];
  owed: readonly (OwedItem & { due: CalendarDate; promised?: PromisedPart })[];
}

/** What a customer has promised of an item, and for which day. */
export interface PromisedPart {
  due: CalendarDate;
  amount: Minor;
}

/** Days after which a cheque comes to the bank, and after its due date a customer pays at the latest. */
const [CHEQUE_DAYS, LATEST_PAYER] = [2, 24];
/** One transfer of so many comes back, and one cheque of so many is not presented in time. */
const ONE_RETURNED = 30;
/** One of so many cheques of customers is not paid. */
const ONE_UNPAID = 8;
/** One direct debit of so many comes back. */
const ONE_DEBIT_BACK = 5;
/** One promise of so many is broken: its item is paid weeks later. */
const [ONE_BROKEN, WEEKS_LATER] = [3, 21];
/** One transfer of so many that came in a file is refused before it is carried out. */
const ONE_REFUSED = 25;
/** Minor units, and per cent a year. */
const FEE = minor(1_850n);
const FEE_UNPAID = minor(750n);
const FEE_DEBIT_BACK = minor(350n);
const INTEREST = "1.5";

/**
 * A day at the bank that stands in for a real one: our payments executed on bank days, cheques
 * presented after a while, some transfers returned with a reason of ISO 20022, slips credited the
 * day after and bills on their day, some cheques on them returned unpaid, direct debits credited
 * block by block and some of them returned, customers' money as customers write it, the fee of a
 * month, interest on deposits at the month's end.
 * The same facts always give the same day. Each item is paid on one day only: its own, counted from
 * its due date, if it lies after the statement before and not after this day. What is promised is paid
 * on the day it was promised for, as far as it was promised; some promises are broken.
 */
export function bankDay(facts: BankDayFacts): BankStatement {
  const { day, from, opening } = facts;
  const lines = [
    ...executions(facts),
    ...returns(facts),
    ...unpaidCheques(facts),
    ...debitsCarriedOut(facts),
    ...debitsBack(facts),
    ...(facts.arriving ?? []).map((a) => ({
      amount: a.amount,
      party: { ...NO_PARTY, name: a.payer, account: a.account },
      keys: { ...NO_KEYS, endToEnd: a.number },
    })),
    ...(facts.handedIn ?? [])
      .filter((h) => h.from <= day)
      .map((h): Line => ({ amount: h.amount, code: "PMNT-RCHQ-OTHR", text: h.text })),
    ...incoming(facts),
    ...charges(facts),
  ].map((l, i): StatementLine => ({
    ...lineOn(day, l),
    keys: { ...NO_KEYS, ...l.keys, bank: `SB${day.replaceAll("-", "")}${100 + i}` },
  }));
  return {
    account: facts.account,
    currency: facts.currency,
    number: facts.number,
    message: `SB${day.replaceAll("-", "")}`,
    opening: { amount: opening, date: from },
    closing: { amount: minor(lines.reduce((t, l) => t + l.amount, opening as bigint)), date: day },
    lines,
    from: 0,
  };
}

type Line = SomeLine;

/** What the bank refuses of files that are to be carried out by a day, with a reason of ISO 20022. */
export const refusedOn = (
  sent: readonly SentPayment[],
  day: CalendarDate,
): { payment: SentPayment; reason: string }[] =>
  sent
    .filter((p) => p.date <= day && isRefused(p))
    .map((payment) => ({ payment, reason: reasonOf(payment) }));

const isRefused = (p: SentPayment): boolean =>
  p.file !== "" && p.cheque === "" && chance(`${p.number} refused`) % ONE_REFUSED === 0;

function executions({ sent, day }: BankDayFacts): Line[] {
  return sent
    .filter((p) => !isRefused(p))
    .filter((p) => (p.cheque === "" ? p.date : addDays(p.date, CHEQUE_DAYS)) <= day)
    .map((p) =>
      p.cheque === ""
        ? {
            amount: minor(-p.amount),
            party: { ...NO_PARTY, name: p.payee },
            keys: { ...NO_KEYS, endToEnd: p.number },
          }
        : {
            amount: minor(-p.amount),
            code: "PMNT-ICHQ-CCHQ",
            keys: { ...NO_KEYS, cheque: p.cheque },
            text: "Cheque presented",
          },
    );
}

const REASONS = ["AC04", "AC01", "AC06"] as const;
const SAYS = {
  AC04: "Returned: account closed",
  AC01: "Returned: account number not right",
  AC06: "Returned: account blocked",
} as const;

const reasonOf = (p: SentPayment) => REASONS[chance(`${p.number} why`) % REASONS.length]!;

function returns({ executed }: BankDayFacts): Line[] {
  return executed
    .filter((p) => p.cheque === "" && chance(p.number) % ONE_RETURNED === 0)
    .map((p) => {
      const reason = reasonOf(p);
      return {
        amount: p.amount,
        code: "PMNT-ICDT-RRTN",
        returnReason: reason,
        party: { ...NO_PARTY, name: p.payee },
        keys: { ...NO_KEYS, endToEnd: p.number },
        text: SAYS[reason],
      };
    });
}

/** Cheques of customers that come back unpaid the day after they were credited, each with a charge. */
const unpaidCheques = ({ credited = [] }: BankDayFacts): Line[] =>
  credited
    .filter((c) => chance(`${c.cheque} ${c.payer}`) % ONE_UNPAID === 0)
    .flatMap((c): Line[] => [
      {
        amount: minor(-c.amount),
        code: "PMNT-RCHQ-UPCQ",
        party: { ...NO_PARTY, name: c.payer },
        keys: { ...NO_KEYS, cheque: c.cheque },
        text: `Cheque ${c.cheque} returned unpaid, deposit ${c.slip}`,
      },
      {
        amount: minor(-FEE_UNPAID),
        code: "PMNT-RCHQ-CHRG",
        text: `Charge, cheque ${c.cheque} returned`,
      },
    ]);

/** Direct debits of a day, each block of a file in one sum with its parts. */
function debitsCarriedOut({ debits = [], day }: BankDayFacts): Line[] {
  const due = debits.filter((d) => d.date <= day);
  return [...new Set(due.map((d) => d.block))].map((block) => {
    const own = due.filter((d) => d.block === block);
    return {
      amount: minor(own.reduce((t, d) => t + d.amount, 0n)),
      code: "PMNT-IDDT-ESDD",
      keys: { ...NO_KEYS, endToEnd: block },
      text: `DIRECT DEBITS ${block}`,
      details: own.map((d) => ({
        amount: d.amount,
        party: { ...NO_PARTY, name: d.payer, account: d.account },
        keys: { ...NO_KEYS, endToEnd: d.number, mandate: d.mandate },
        text: `DIRECT DEBIT ${d.number}`,
        returnReason: "",
      })),
    };
  });
}

const DEBIT_REASONS = ["AM04", "MD06", "AC04"] as const;

/** Direct debits that come back the day after they were credited, each with a charge. */
const debitsBack = ({ debited = [] }: BankDayFacts): Line[] =>
  debited
    .filter((d) => chance(`${d.number} ${d.mandate}`) % ONE_DEBIT_BACK === 0)
    .flatMap((d): Line[] => [
      {
        amount: minor(-d.amount),
        code: "PMNT-IDDT-UPDD",
        returnReason: DEBIT_REASONS[chance(d.number) % DEBIT_REASONS.length]!,
        party: { ...NO_PARTY, name: d.payer, account: d.account },
        keys: { ...NO_KEYS, endToEnd: d.number, mandate: d.mandate },
        text: `Direct debit ${d.number} returned`,
      },
      {
        amount: minor(-FEE_DEBIT_BACK),
        code: "PMNT-IDDT-CHRG",
        text: `Charge, direct debit ${d.number} returned`,
      },
    ]);

function incoming({ owed, from, day }: BankDayFacts): Line[] {
  const isNow = (pays: CalendarDate): boolean => pays > from && pays <= day;
  return owed.flatMap((i) => {
    if (!i.promised) {
      const pays = addDays(i.due, (chance(i.reference) % (LATEST_PAYER + 6)) - 6);
      const way = chance(`${i.reference} way`) % WAYS_OF_WRITING;
      return isNow(pays) ? [customersMoney(i, way)] : [];
    }
    const { due, amount } = i.promised;
    const isBroken = chance(`${i.reference} promised ${due}`) % ONE_BROKEN === 0;
    if (!isNow(isBroken ? addDays(due, WEEKS_LATER) : due)) return [];
    return [customersMoney({ ...i, left: amount < i.left ? amount : i.left }, PLAINLY)];
  });
}

function charges({ from, day, kind, opening, number }: BankDayFacts): Line[] {
  if (day.slice(0, 7) === from.slice(0, 7)) return [];
  const month = from.slice(0, 7);
  const fee: Line = {
    amount: minor(-FEE),
    code: "PMNT-MDOP-CHRG",
    text: `Account fee ${month}, statement ${number}`,
  };
  if (kind !== "deposit" || opening <= 0n) return [fee];
  // A month's part of the year's interest, whole cents for the depositor.
  const interest = minor((opening * BigInt(Number(INTEREST) * 100)) / (10_000n * 12n));
  const gained: Line = {
    amount: interest,
    code: "PMNT-MCOP-INTR",
    text: `Interest ${month}, ${INTEREST} % a year`,
  };
  return interest > 0n ? [fee, gained] : [fee];
}

/** A number that a text always gives: what is by chance in it is the same each time (FNV-1a). */
function chance(text: string): number {
  let h = 0x811c9dc5;
  for (const c of text) h = Math.imul(h ^ c.charCodeAt(0), 0x01000193) >>> 0;
  return (h ^ (h >>> 15)) >>> 0;
}
