import { addDays, minor, type Minor } from "../src/core/shared";
import {
  type CodedKind,
  type MatchFacts,
  type MatchItem,
  type MatchLine,
  type MatchPartner,
} from "../src/core/banks/matching";
import { NO_KEYS } from "../src/core/banks/statements";

/** What a generated line really is. */
export interface Truth {
  sort: string;
  /** Items that it pays; or the kind of movement; neither where nobody could say. */
  items: readonly number[];
  kind: string;
  /** Whether what it says is enough to know it beyond doubt. */
  clear: boolean;
}

const KINDS: readonly CodedKind[] = [
  {
    code: "CHARGE",
    name: "Bank charges",
    side: "out",
    codes: ["PMNT-MDOP-CHRG"],
    words: ["FEE"],
    coded: true,
  },
  {
    code: "INTEREST",
    name: "Interest",
    side: "both",
    codes: ["ACMT-MCOP-INTR"],
    words: ["INTEREST"],
    coded: true,
  },
];
const SYLLABLES =
  "bar ben cor dal fen gar hol kes lan mer nor ost pel quin rast sel tarn ul vor wex".split(" ");
const TRADES = [
  "Freight",
  "Tours",
  "Chandlery",
  "Fuels",
  "Insurance",
  "Marine",
  "Catering",
  "Works",
];
const FORMS = ["GmbH", "Ltd", "SA", "plc", ""];

/** Small numbers that only depend on the seed (mulberry32). */
function random(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4294967296) * below);
  };
}

const SORTS = [
  "our payment",
  "our payment",
  "our cheque",
  "whole number",
  "whole number",
  "short number",
  "two invoices",
  "discount",
  "misspelt name",
  "account and amount",
  "part of one",
  "short by a charge",
  "duplicate",
  "same number, two partners",
  "two of the same amount",
  "charge",
  "interest",
  "somebody else's account",
  "a stranger",
  "returned",
] as const;

/**
 * Open items of many partners and lines of bank statements of every sort, with what each line
 * really is. Each item is paid by one line at most, but for duplicates, which nobody can tell apart.
 */
export function bankLines(
  size: { lines: number; items: number },
  seed = 1,
): MatchFacts & { truth: Truth[] } {
  const next = random(seed);
  const pick = <T>(of: readonly T[]): T => of[next(of.length)]!;
  const count = Math.max(20, Math.floor(size.items / 12));
  const partners: MatchPartner[] = Array.from({ length: count }, (_, i) => ({
    code: `P-${i}`,
    name: `${title(pick(SYLLABLES) + pick(SYLLABLES) + pick(SYLLABLES))} ${title(pick(SYLLABLES) + pick(SYLLABLES))} ${pick(TRADES)} ${pick(FORMS)}`.trim(),
    accounts: [`XX00TEST${String(i).padStart(10, "0")}`],
  }));
  const items: MatchItem[] = Array.from({ length: size.items }, (_, i) => {
    const underWay = i % 4 === 0;
    const left = BigInt(1_000 + next(2_000_000)) * (underWay ? -1n : 1n);
    const date = addDays("2026-10-01", -next(60));
    return {
      id: i + 1,
      partner: partners[next(count)]!.code,
      numbers: [underWay ? `HSF-26-Z${pad(i)}` : `HSF-26-R${pad(i)}`],
      endToEnd: underWay && i % 8 === 0 ? `HSF-26-Z${pad(i)}` : "",
      cheque: underWay && i % 8 === 4 ? String(700_000 + i) : "",
      left: minor(left),
      currency: "EUR",
      date,
      due: addDays(date, 30),
      discounts: i % 5 === 1 ? [{ until: "2026-12-31", amount: minor(left / 50n) }] : [],
      underWay,
      bank: underWay ? 1 : null,
    };
  });
  const free = new Set(items);
  const twins: MatchItem[] = [];
  const takeItem = (fits: (i: MatchItem) => boolean): MatchItem | undefined => {
    for (let tries = 0; tries < 200; tries++) {
      const i = items[next(items.length)]!;
      if (free.has(i) && fits(i)) {
        free.delete(i);
        return i;
      }
    }
    return undefined;
  };
  const lines: MatchLine[] = [];
  const truth: Truth[] = [];
  const add = (sort: string, line: Partial<MatchLine> & { amount: Minor }, of: Partial<Truth>) => {
    lines.push({
      id: lines.length + 1,
      bank: 1,
      currency: "EUR",
      booked: "2026-11-03",
      party: { name: "", account: "", bic: "" },
      keys: NO_KEYS,
      text: "",
      code: "PMNT-RCDT-ESCT",
      isReturn: false,
      returnReason: "",
      ...line,
    });
    truth.push({ sort, items: [], kind: "", clear: false, ...of });
  };
  const of = (i: MatchItem) => partners[Number(i.partner.slice(2))]!;
  const party = (p: MatchPartner, name = p.name) => ({ name, account: p.accounts[0]!, bic: "" });
  const open = (i: MatchItem) => !i.underWay;
  const spelt = (number: string): string =>
    pick([
      number,
      number.toLowerCase(),
      number.replaceAll("-", " "),
      number.replaceAll("-", ""),
      number.replace(/R0+/, "R"),
    ]);
  for (let n = 0; lines.length < size.lines; n++) {
    const sort = SORTS[n % SORTS.length]!;
    const i = takeItem(
      sort === "our payment" || sort === "returned"
        ? (x) => x.endToEnd !== ""
        : sort === "our cheque"
          ? (x) => x.cheque !== ""
          : sort === "discount"
            ? (x) => x.discounts.length > 0
            : open,
    );
    if (!i) break;
    const p = of(i);
    const paid = { items: [i.id] };
    const text = `Invoice ${spelt(i.numbers[0]!)} with thanks`;
    if (sort === "our payment")
      add(
        sort,
        { amount: i.left, party: party(p), keys: { ...NO_KEYS, endToEnd: i.endToEnd } },
        { ...paid, clear: true },
      );
    else if (sort === "our cheque")
      add(
        sort,
        { amount: i.left, keys: { ...NO_KEYS, cheque: `00${i.cheque}` } },
        { ...paid, clear: true },
      );
    else if (sort === "whole number")
      add(sort, { amount: i.left, party: party(p), text }, { ...paid, clear: true });
    else if (sort === "short number")
      add(
        sort,
        { amount: i.left, party: party(p), text: `Rechn. R${pad(i.id - 1)}` },
        { ...paid, clear: true },
      );
    else if (sort === "two invoices") {
      const second = [...free].find((x) => open(x) && x.partner === i.partner);
      if (!second) continue;
      free.delete(second);
      add(
        sort,
        {
          amount: minor(i.left + second.left),
          party: party(p),
          text: `${i.numbers[0]} + ${second.numbers[0]}`,
        },
        { items: [i.id, second.id], clear: true },
      );
    } else if (sort === "discount")
      add(
        sort,
        { amount: minor(i.left - i.discounts[0]!.amount), party: party(p), text },
        { ...paid, clear: true },
      );
    else if (sort === "misspelt name")
      add(
        sort,
        { amount: i.left, party: { name: misspelt(p.name, next), account: "", bic: "" }, text },
        { ...paid, clear: true },
      );
    else if (sort === "account and amount")
      add(sort, { amount: i.left, party: party(p), text: "Thank you" }, { ...paid, clear: true });
    else if (sort === "part of one")
      add(sort, { amount: minor(i.left / 3n), party: party(p), text: `${text}, first part` }, paid);
    else if (sort === "short by a charge")
      add(sort, { amount: minor(i.left - 10n), party: party(p), text }, paid);
    else if (sort === "duplicate") {
      add(sort, { amount: i.left, party: party(p), text }, paid);
      add(sort, { amount: i.left, party: party(p), text }, paid);
    } else if (sort === "same number, two partners")
      add(
        sort,
        { amount: i.left, party: { ...party(p), account: "" }, text: `No. ${i.id - 1}` },
        paid,
      );
    else if (sort === "two of the same amount") {
      const id = size.items + twins.length + 1;
      twins.push({ ...i, id, numbers: [`HSF-26-R9${pad(i.id)}`] });
      add(sort, { amount: i.left, party: party(p), text: "Thank you" }, {});
    } else if (sort === "charge") {
      free.add(i);
      add(
        sort,
        { amount: minor(-1250n), text: "Fee of the quarter", code: "PMNT-MDOP-CHRG" },
        { kind: "CHARGE", clear: true },
      );
    } else if (sort === "interest") {
      free.add(i);
      add(
        sort,
        { amount: minor(317n), text: "Interest", code: "ACMT-MCOP-INTR" },
        { kind: "INTEREST", clear: true },
      );
    } else if (sort === "somebody else's account")
      add(
        sort,
        {
          amount: i.left,
          party: {
            name: p.name,
            account: partners[(Number(i.partner.slice(2)) + 1) % count]!.accounts[0]!,
            bic: "",
          },
          text,
        },
        paid,
      );
    else if (sort === "a stranger") {
      free.add(i);
      add(
        sort,
        {
          amount: minor(BigInt(5_000_001 + next(900_000))),
          party: { name: "Zyx Qwv Unbekannt", account: "XX99", bic: "" },
          text: "ref 5512 / 77",
        },
        {},
      );
    } else if (sort === "returned")
      add(
        sort,
        {
          amount: minor(-i.left),
          keys: { ...NO_KEYS, endToEnd: i.endToEnd },
          returnReason: "AC04",
          code: "PMNT-ICDT-RRTN",
        },
        {},
      );
  }
  return {
    lines,
    items: [...items, ...twins],
    partners,
    kinds: KINDS,
    rules: [],
    oneSided: [],
    ownAccounts: [],
    truth,
  };
}
const pad = (n: number): string => String(n).padStart(5, "0");
const title = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

function misspelt(name: string, next: (below: number) => number): string {
  const at = 1 + next(name.length - 3);
  return name.slice(0, at) + name[at + 1]! + name[at]! + name.slice(at + 2);
}

/** How many lines came out as they really are. */
export function judged(
  truth: readonly Truth[],
  found: readonly {
    verdict: string;
    candidates: readonly { kind: string; takes: readonly { item: number }[] }[];
  }[],
): {
  certain: number;
  wrong: string[];
  clear: number;
  clearFound: number;
  named: number;
  first: number;
} {
  const wrong: string[] = [];
  let [certain, clear, clearFound, named, first] = [0, 0, 0, 0, 0];
  truth.forEach((t, i) => {
    const { verdict, candidates } = found[i]!;
    const best = candidates[0];
    const isRight =
      best !== undefined &&
      best.kind === t.kind &&
      best.takes
        .map((x) => x.item)
        .sort()
        .join() === [...t.items].sort().join();
    if (verdict === "certain") {
      certain++;
      if (!isRight) wrong.push(`${t.sort} (line ${i + 1})`);
    }
    if (t.clear) {
      clear++;
      if (verdict === "certain" && isRight) clearFound++;
    }
    if (t.kind || t.items.length > 0) {
      named++;
      if (isRight) first++;
    }
  });
  return { certain, wrong, clear, clearFound, named, first };
}
