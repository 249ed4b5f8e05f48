import { bankAddressKey, type BankAddress, type PlannedPayment, type SettledItem } from "../banks";
import { part } from "../openItems";
import { convertBy, type Conversion } from "../rates";
import type { Explanation, RunItem, RunOverrides } from "../runs";
import {
  amountText,
  dateText,
  minor,
  proportion,
  readAmount,
  type CalendarDate,
  type Minor,
} from "../shared";
import { type PayableSupplier, type DiscountOnPart, type PayableItem, size } from "./payments";
import { discountLost, discountOn } from "../openItems";

export interface PaymentRules {
  date: CalendarDate;
  /** The next planned run: what falls due before it is paid now. */
  next: CalendarDate;
  /** Only suppliers that are paid in this way; empty: each in its own. */
  method: "" | PayableSupplier["method"];
  currencies: readonly string[];
  /** Least payment, in functional minor units. */
  minimum: Minor;
  perInvoice: boolean;
  discountOnPart: DiscountOnPart;
  functional: string;
  /** Functional units for one of a currency on the day; null where none is known. */
  rateOf: (currency: string) => Conversion | null;
  /** The company that pays instead, into whose currency a rate has to be known too. */
  paying?: { functional: string; rateOf: (currency: string) => Conversion | null };
}

export interface PaymentPlan {
  items: RunItem[];
  payments: PlannedPayment[];
}

/** The most that one transfer in euro carries (EPC 132-08): 999,999,999.99. */
const MOST_IN_EURO = minor(99_999_999_999n);

const tooLarge = (amount: Minor, currency: string): boolean =>
  currency === "EUR" && amount > MOST_IN_EURO;

/** What a payment carries of the account that it goes to; nothing where it is no transfer. */
const addressOf = (
  s: PayableSupplier | null,
): BankAddress & Pick<PlannedPayment, "bankId" | "holder"> => ({
  iban: s?.iban ?? "",
  bic: s?.bic ?? "",
  number: s?.number ?? "",
  routing: s?.routing ?? "",
  country: s?.country ?? "",
  bankId: s?.bankId ?? null,
  holder: s?.holder ?? "",
});

interface Candidate {
  item: PayableItem;
  supplier: PayableSupplier | undefined;
  why: string;
  discount: { amount: Minor; until: CalendarDate; percent: string } | null;
  leftOut: string | undefined;
  ask: string | undefined;
  paid: SettledItem | null;
}

/** Key of an item in a run, under which it is reserved and dropped. */
export const paymentItemKey = (id: number): string => `item|${id}`;

const askKey = (id: number): string => `pay|${id}`;

/**
 * What a payment run would pay: everything that falls due before the next planned run, so that
 * nothing becomes overdue between them, and what earns a discount
 * today that would be smaller or gone by then. Credit notes of the same supplier and currency are
 * netted.
 * Units: minor units of each item's currency; `RunItem.amount` in functional ones, positive for
 * what leaves the bank.
 * Rounding: conversions and discounts half away from zero; a part payment of P of what settles L
 * with the discount D settles P × L / (L − D) where the rule is "in proportion".
 * Items are taken in the order of suppliers' names, currencies, due dates and ids, so that equal
 * data give equal proposals.
 */
export function proposePayments(
  items: readonly PayableItem[],
  suppliers: ReadonlyMap<string, PayableSupplier>,
  rules: PaymentRules,
  overrides: RunOverrides,
): PaymentPlan {
  const dropped = new Set(overrides.dropped);
  const groups = new Map<string, Candidate[]>();
  for (const item of items) {
    const candidate = weigh(
      item,
      suppliers.get(item.partner),
      rules,
      overrides.amounts[askKey(item.id)],
    );
    if (!candidate) continue;
    const key = `${item.partner}|${item.currency}`;
    const group = groups.get(key);
    if (group) group.push(candidate);
    else groups.set(key, [candidate]);
  }
  const plan: PaymentPlan = { items: [], payments: [] };
  const nameOf = (c: Candidate) => c.supplier?.name ?? c.item.partner;
  const order = [...groups.values()].sort(
    (a, b) =>
      compare(nameOf(a[0]!), nameOf(b[0]!)) ||
      compare(a[0]!.item.partner, b[0]!.item.partner) ||
      compare(a[0]!.item.currency, b[0]!.item.currency),
  );
  for (const group of order) {
    // Credits alone make no payment: they are looked at only beside something that is owed.
    if (!group.some((c) => c.item.left < 0n)) continue;
    group.sort((a, b) => compare(a.item.due, b.item.due) || a.item.id - b.item.id);
    planGroup(group, rules, dropped, plan);
  }
  return plan;
}

const compare = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/**
 * Whether an item belongs into the run, why, and what stands against it. Null: it is none of this
 * run's business yet.
 */
function weigh(
  item: PayableItem,
  supplier: PayableSupplier | undefined,
  rules: PaymentRules,
  typed: string | undefined,
): Candidate | null {
  if (rules.currencies.length > 0 && !rules.currencies.includes(item.currency)) return null;
  const owed = item.left < 0n;
  const now = owed ? discountOn(item, rules.date) : null;
  let why: string;
  if (!owed) {
    if (item.kind === "prepayment") return null;
    why = `${item.kind}, taken off`;
  } else if (item.due < rules.next)
    why = `${item.due < rules.date ? "overdue since" : "due"} ${dateText(item.due)}`;
  else {
    const later = discountOn(item, rules.next);
    if (!now || (later && later.amount >= now.amount)) return null;
    why = `discount until ${dateText(now.until)}`;
  }
  if (now && !why.startsWith("discount")) why += `, discount until ${dateText(now.until)}`;
  const candidate: Candidate = {
    item,
    supplier,
    why,
    discount: now,
    leftOut: standsAgainst(item, supplier, rules),
    ask: typed,
    paid: null,
  };
  if (candidate.leftOut === undefined) take(candidate, rules);
  return candidate;
}

function standsAgainst(
  item: PayableItem,
  supplier: PayableSupplier | undefined,
  rules: PaymentRules,
): string | undefined {
  if (item.takenBy !== null) return `${item.takenBy} has taken it already`;
  if (item.date > rules.date) return `it is booked on ${dateText(item.date)}, after the payment`;
  if (item.hold !== "") return `it is on hold: ${item.hold}`;
  if (!supplier) return "no supplier of that number is set up";
  if (supplier.blocked) return `${supplier.name} is blocked`;
  if (supplier.hold !== "") return `${supplier.name} is on hold: ${supplier.hold}`;
  if (rules.method !== "" && supplier.method !== rules.method)
    return `${supplier.name} is paid by ${supplier.method}`;
  if (supplier.method === "transfer" && supplier.bankWaits)
    return "a changed bank account waits for a second person";
  if (supplier.method === "transfer" && bankAddressKey(supplier) === "")
    return "no bank account is known";
  for (const { functional, rateOf } of [rules, ...(rules.paying ? [rules.paying] : [])])
    if (rateOf(item.currency) === null)
      return `no rate from ${item.currency} to ${functional} is known`;
  return undefined;
}

/** How much is taken from an item: all of it, or what a person typed. */
function take(c: Candidate, rules: PaymentRules): void {
  const { item } = c;
  const owed = size(item.left);
  const sign = item.left < 0n ? -1n : 1n;
  const full = c.discount?.amount ?? minor(0n);
  let taken = owed;
  let discount = full;
  if (c.ask !== undefined && c.ask.trim() !== "") {
    const read = readAmount(c.ask, item.currency);
    if (!read.ok || read.amount <= 0n)
      c.leftOut = `“${c.ask.slice(0, 40)}” is no amount that could be paid`;
    else if (read.amount > owed - full)
      c.leftOut =
        read.amount > owed
          ? `only ${amountText(owed, item.currency)} ${item.currency} are left of it`
          : `${amountText(minor(owed - full), item.currency)} ${item.currency} settle it with its discount; no more is needed`;
    else if (read.amount < owed - full) {
      taken =
        rules.discountOnPart === "in proportion" && full > 0n
          ? proportion(read.amount, owed, owed - full)
          : read.amount;
      discount = minor(taken - read.amount);
    }
    if (c.leftOut !== undefined) return;
  }
  const { functional } = part(item, taken);
  c.paid = {
    item: item.id,
    reference: item.reference,
    account: item.account,
    taken: minor(sign * taken),
    functional,
    discount,
    lost: discountLost(item, taken, discount),
  };
}

function planGroup(
  group: readonly Candidate[],
  rules: PaymentRules,
  dropped: ReadonlySet<string>,
  plan: PaymentPlan,
): void {
  const live = group.filter((c) => c.paid && !dropped.has(paymentItemKey(c.item.id)));
  for (const bundle of bundles(live, rules)) {
    const first = bundle[0]!;
    const { currency } = first.item;
    const rate = rules.rateOf(currency)!;
    const amount = minor(bundle.reduce((t, c) => t - c.paid!.taken - c.paid!.discount, 0n));
    const functional = convertBy(amount, currency, rules.functional, rate);
    const refuse = (why: string) => bundle.forEach((c) => (c.leftOut = why));
    if (amount <= 0n)
      refuse(
        `${first.supplier!.name} owes us ${amountText(minor(-amount), currency)} ${currency} on balance`,
      );
    else if (functional < rules.minimum)
      refuse(
        `the payment would be below ${amountText(rules.minimum, rules.functional)} ${rules.functional}`,
      );
    else if (first.supplier!.method === "transfer" && tooLarge(amount, currency))
      refuse(`a transfer carries at most ${amountText(MOST_IN_EURO, "EUR")} EUR`);
    else {
      const key = `${first.item.partner}|${currency}${rules.perInvoice ? `|${first.item.id}` : ""}`;
      const s = first.supplier!;
      plan.payments.push({
        key,
        partner: s.code,
        payee: s.name,
        method: s.method,
        currency,
        rate,
        amount,
        functional,
        discount: minor(bundle.reduce((t, c) => t + c.paid!.discount, 0n)),
        ...addressOf(s.method === "transfer" ? s : null),
        items: bundle.map((c) => c.paid!),
      });
      const place = plan.payments.length - 1;
      for (const c of bundle) plan.items.push(shown(c, rules, place));
      continue;
    }
    for (const c of bundle) plan.items.push(shown(c, rules));
  }
  for (const c of group) if (!live.includes(c)) plan.items.push(shown(c, rules));
}

/**
 * What is paid together: everything of a supplier in one currency; or each invoice by itself, with
 * credits where they fit.
 */
function bundles(live: readonly Candidate[], rules: PaymentRules): Candidate[][] {
  if (live.length === 0) return [];
  if (!rules.perInvoice) return [[...live]];
  const invoices = live
    .filter((c) => c.paid!.taken < 0n)
    .map((c) => ({ list: [c], left: -c.paid!.taken - c.paid!.discount }));
  for (const credit of live.filter((c) => c.paid!.taken > 0n)) {
    const room = invoices.find((b) => b.left > credit.paid!.taken);
    if (!room)
      credit.leftOut =
        "it is larger than each invoice that is paid by itself; pay per supplier, or settle it by hand";
    else {
      room.list.push(credit);
      room.left -= credit.paid!.taken;
    }
  }
  return [...invoices.map((b) => b.list)];
}

function shown(c: Candidate, rules: PaymentRules, place?: number): RunItem {
  const { item } = c;
  const { currency } = item;
  const rate = rules.rateOf(currency);
  const full = minor(-item.left - (c.discount?.amount ?? 0n));
  const pays = c.paid ? minor(-c.paid.taken - c.paid.discount) : full;
  const own = (amount: Minor): Minor =>
    rate === null ? minor(0n) : convertBy(amount, currency, rules.functional, rate);
  const money = (amount: bigint): string => `${amountText(minor(amount), currency)} ${currency}`;
  const partly = c.paid !== null && size(c.paid.taken) < size(item.left);
  const explanation: Explanation = {
    title: item.reference,
    steps: [
      {
        label: item.left < 0n ? "Left to pay" : "Left in our favour",
        text: money(size(item.left)),
      },
      ...(partly ? [{ label: "of it settled now", text: money(size(c.paid!.taken)) }] : []),
      ...(c.discount
        ? [
            {
              label: `Discount of ${c.discount.percent} % until ${dateText(c.discount.until)}`,
              text: money(-(c.paid?.discount ?? c.discount.amount)),
            },
          ]
        : []),
      { label: item.left < 0n ? "Paid" : "Taken off", text: money(size(pays)), total: true },
      ...(rate === null || rate === "same"
        ? []
        : [{ label: `at ${rate.rate}`, amount: own(pays) }]),
      ...(partly
        ? [{ label: "Stays open", text: money(size(item.left) - size(c.paid!.taken)) }]
        : []),
    ],
  };
  return {
    key: paymentItemKey(item.id),
    group: c.supplier?.name ?? item.partner,
    label: `${item.reference}${currency === rules.functional ? "" : `, ${money(pays)}`}`,
    amount: own(pays),
    why: partly ? `${c.why}; in part, ${money(size(item.left) - size(c.paid!.taken))} stay` : c.why,
    explanation,
    droppable: true,
    ...(place === undefined ? {} : { drafts: [place] }),
    ...(c.leftOut === undefined ? {} : { leftOut: c.leftOut }),
    ...(item.left < 0n
      ? {
          asks: [
            {
              key: askKey(item.id),
              label: "Pay only",
              currency,
              given: c.ask ?? "",
              optional: true,
            },
          ],
        }
      : {}),
  };
}
