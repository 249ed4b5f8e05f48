import { sql } from "drizzle-orm";
import { controlAccountOf, type Effect } from "@/core/ledger";
import {
  invoiceInput,
  numberKey,
  readInvoice,
  signsOfFraud,
  type InvoiceInput,
  type InvoiceReading,
  type OrderedLine,
} from "@/core/payables";
import type { DiscountOn } from "@/core/trade";
import {
  dateText,
  fail,
  isCalendarDate,
  minor,
  ok,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows, readSetting } from "../db";
import type { Context } from "../access";
import { limitsAbove, ruleFor, showProblem, whyOf, type ShownProblem } from "../ledger";
import { listTerms } from "../partners";
import { grniAccount, orderedLines, readShares } from "../purchasing";
import { readTaxCodes, type TaxDay } from "../taxes";
import {
  checkPapers,
  paperEffects,
  paperFigures,
  paperTaxDays,
  paperToApprove,
  type CheckedPaper,
  type PaperFigures,
} from "../trade";
import { pastOf } from "./supplierPast";
import { correctionsOf, type Correction } from "./corrections";

/** Another invoice that this one may be a copy of. */
export interface PossibleCopy {
  id: number;
  number: string;
  supplierNumber: string;
  date: string | null;
  amount: Minor;
  currency: string;
  status: string;
  why: string;
  /** The same number of the same supplier: that is refused, not only pointed out. */
  same: boolean;
}

export interface InvoiceCheck extends PaperFigures {
  problems: ShownProblem[];
  copies: PossibleCopy[];
  effects: Effect[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
  /** What does not fit to orders and receipts: with this it is held instead of posted. */
  holds: string[];
  /** Where its taxes are reported, in a sentence, where that is not the period of its date. */
  taxNote: string;
}

const CONTROL = "payables";

/** What discounts are a per cent of, as it was set. */
export const discountOnSetting = async ({ tx }: Context): Promise<DiscountOn> =>
  (await readSetting<DiscountOn>(tx, "discounts.on")) ?? "invoice total";

type PaperFacts = (input: InvoiceInput) => Parameters<typeof readInvoice>[1];

/**
 * What invoices are read with, in a number of queries that does not depend on how many they are.
 */
async function paperFacts(context: Context, inputs: readonly InvoiceInput[]): Promise<PaperFacts> {
  const { tx, masters } = context;
  const lines = inputs.flatMap((i) => i.lines);
  const suppliers = new Map(
    (
      await rows<NonNullable<ReturnType<PaperFacts>["partner"]>>(
        tx,
        sql`select code, name, terms, blocked from partner
          where supplier
          and code = any(${arrayOf([...new Set(inputs.map((i) => i.supplier.trim()))])}::text[])`,
      )
    ).map((s) => [s.code, s]),
  );
  const terms = await listTerms.definition.run(context, {});
  const ordered = new Map<string, Map<string, OrderedLine>>();
  for (const company of new Set(inputs.map((i) => i.company))) {
    const refs = [
      ...new Set(
        inputs
          .filter((i) => i.company === company)
          .flatMap((i) => i.lines.map((l) => l.order.trim().toUpperCase()).filter((r) => r !== "")),
      ),
    ];
    const known = masters.companyByCode.get(company);
    if (known) ordered.set(company, await orderedLines(context, known.id, { refs }));
  }
  const shares = new Map(
    lines.some((l) => l.shares.trim() !== "") ? (await readShares(tx)).map((s) => [s.code, s]) : [],
  );
  const common = {
    shares,
    discountOn: await discountOnSetting(context),
    today: context.today,
    control: controlAccountOf(context.masters, CONTROL),
    controls: new Set(
      masters.accounts
        .filter((a) => a.control === CONTROL && a.type === "liability" && !a.blocked)
        .map((a) => a.number),
    ),
    matching: {
      grni: grniAccount(masters) ?? "",
      priceVariance: masters.purposes.priceVariance ?? "",
      quantityVariance: masters.purposes.quantityVariance ?? "",
    },
    taxCodes: new Map(
      (await readTaxCodes(tx, "purchase")).filter((t) => !t.blocked).map((t) => [t.code, t]),
    ),
    terms: new Map(terms.ok ? terms.value.map((t) => [t.code, t.terms]) : []),
  };
  return (input) => ({
    ...common,
    company: input.company,
    ordered: ordered.get(input.company) ?? new Map(),
    functional: masters.companyByCode.get(input.company)?.currency ?? "EUR",
    partner: suppliers.get(input.supplier.trim()) ?? null,
  });
}

/** Reads invoices as written, in a number of queries that does not depend on how many they are. */
export async function readPapers(
  context: Context,
  inputs: readonly InvoiceInput[],
): Promise<InvoiceReading[]> {
  const facts = await paperFacts(context, inputs);
  return inputs.map((input) => readInvoice(input, facts(input)));
}
export const readPaper = async (context: Context, input: InvoiceInput): Promise<InvoiceReading> =>
  (await readPapers(context, [input]))[0]!;

interface Paper {
  input: InvoiceInput;
  /** The draft that it is kept as, if it is. */
  id?: number | undefined;
}

/**
 * Possible copies of each: the same number of the supplier, or the same amount with a date within
 * two weeks. Cancelled ones do not count.
 */
async function copiesOf(
  { tx }: Context,
  papers: readonly (Paper & { reading: InvoiceReading })[],
): Promise<PossibleCopy[][]> {
  const column = <T extends string | number | bigint | null>(
    pick: (p: (typeof papers)[number], i: number) => T,
  ) => arrayOf(papers.map(pick));
  const found = await rows<
    Omit<PossibleCopy, "id" | "amount" | "why" | "same"> & {
      n: number;
      id: bigint;
      amount: bigint;
      same: boolean;
    }
  >(
    tx,
    sql`select n, id, number, "supplierNumber", date, amount, currency, status, same from (
          select x.n, d.id, coalesce(d.number, '') as number,
            i.content->>'number' as "supplierNumber", d.date, coalesce(d.amount,
            0)::bigint as amount, d.currency, d.status, i.number_key = x.key
            and x.key <> '' as same, row_number() over (partition by x.n
            order by d.id desc) as place
          from unnest(${column((_, i) => i)}::int[],
            ${column((p) => p.input.supplier.trim())}::text[],
            ${column((p) => numberKey(p.input.number))}::text[],
            ${column((p) => p.reading.gross)}::bigint[],
            ${column((p) => p.reading.currency)}::text[],
            ${column((p) => (isCalendarDate(p.reading.date) ? p.reading.date : null))}::date[],
            ${column((p) => p.id ?? 0)}::bigint[]) as x(n, supplier, key, gross, currency, day, own)
            join partner p on p.code = x.supplier join invoice i on i.partner_id = p.id
              join document d on d.id = i.document_id
          where d.status not in ('reversed') and d.id <> x.own
            and ((i.number_key = x.key and x.key <> '') or (abs(d.amount) = x.gross and d.amount <> 0
              and d.currency = x.currency and d.date between x.day - 14 and x.day + 14))) y
        where place <= 10 order by n, id desc`,
  );
  const copies = papers.map((): PossibleCopy[] => []);
  for (const { n, same, ...f } of found)
    copies[n]!.push({
      ...f,
      id: Number(f.id),
      amount: minor(f.amount < 0n ? -f.amount : f.amount),
      same: same && f.status !== "draft",
      why: same ? "the same number" : "the same amount, about the same day",
    });
  return copies;
}

export interface Ready {
  reading: InvoiceReading;
  drafts: CheckedPaper["drafts"];
  problems: Found[];
  copies: PossibleCopy[];
  taxDay: TaxDay;
  correction: Correction | undefined;
}

/** What holds invoices because of their supplier's file, by their identity. */
async function paperHolds(
  { tx }: Context,
  papers: readonly Paper[],
): Promise<Map<number, string[]>> {
  const ids = papers.flatMap((p) => p.id ?? []);
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: bigint; holds: string[] }>(
    tx,
    sql`select document_id as id, paper_holds as holds from invoice
      where document_id = any(${arrayOf(ids)}::bigint[]) and paper_holds <> '[]'::jsonb`,
  );
  return new Map(found.map((f) => [Number(f.id), f.holds]));
}

/** What looks like fraud in each, by what is known of its supplier. */
async function signsIn(
  context: Context,
  papers: readonly (Paper & { reading: InvoiceReading })[],
): Promise<string[][]> {
  const past = await pastOf(context, papers);
  const limits = await limitsAbove(
    context,
    papers.map((p) => paperToApprove(p.reading)),
  );
  return papers.map(({ input, reading }, i) =>
    signsOfFraud(
      { number: input.number, total: reading.gross, currency: reading.currency },
      past[i]!,
      limits[i]!,
    ),
  );
}

/** Reads and checks an invoice as it would be posted, with the problems at the lines as written. */
export async function prepare(
  context: Context,
  input: InvoiceInput,
  id?: number,
): Promise<Result<Ready>> {
  const ready = await prepareAll(context, [{ input, id }]);
  return ready.ok ? ok(ready.value[0]!) : ready;
}

/** The same for many at once, in a number of queries that does not depend on how many they are. */
export async function prepareAll(
  context: Context,
  papers: readonly Paper[],
): Promise<Result<Ready[]>> {
  const { masters } = context;
  const unknown = papers.find((p) => !masters.companyByCode.has(p.input.company));
  if (unknown)
    return fail({ code: "COMPANY_UNKNOWN", company: unknown.input.company, field: "company" });
  const facts = await paperFacts(
    context,
    papers.map((p) => p.input),
  );
  const doubts = await paperHolds(context, papers);
  const plain = papers.map((p) => ({
    ...p,
    reading: readInvoice(p.input, facts(p.input)),
    companyId: masters.companyByCode.get(p.input.company)!.id,
  }));
  const corrections = await correctionsOf(context, plain);
  const signs = await signsIn(context, plain);
  const read = plain.map((p, i) => {
    const correction = corrections.get(p);
    const holds = [
      ...(doubts.get(p.id ?? 0) ?? []),
      ...p.reading.holds,
      ...signs[i]!,
      ...(correction?.hold ? [correction.hold] : []),
    ];
    return { ...p, reading: { ...p.reading, holds }, correction };
  });
  const checked = await checkPapers(
    context,
    read.map((r) => r.reading),
  );
  const copies = await copiesOf(context, read);
  const days = await paperTaxDays(
    context,
    read.map(({ input, reading }) => ({ ...input, reading })),
  );
  return ok(
    read.map(({ input, reading, correction }, i): Ready => {
      const double = copies[i]!.find((c) => c.same);
      return {
        reading,
        drafts: checked[i]!.drafts,
        copies: copies[i]!,
        taxDay: days[i]!,
        correction,
        problems: [
          ...reading.problems,
          ...checked[i]!.problems,
          ...(days[i]!.problem ? [days[i]!.problem] : []),
          ...(correction?.problem ? [correction.problem] : []),
          ...(double
            ? [
                {
                  code: "INVOICE_DOUBLE",
                  number: double.supplierNumber,
                  supplier: input.supplier,
                  date: double.date ? dateText(double.date) : "no date",
                  field: "number",
                } as Found,
              ]
            : []),
        ],
      };
    }),
  );
}

/**
 * What there is to say of a paper that has been prepared: what it comes to, what it does to
 * balances, and who has to approve it.
 */
export async function checkOf(
  context: Context,
  input: InvoiceInput,
  { reading, drafts, problems, copies, taxDay }: Ready,
): Promise<InvoiceCheck> {
  const effects = await paperEffects(context, input.company, drafts);
  const [rule] = await ruleFor(context, [paperToApprove(reading)]);
  return {
    ...paperFigures(reading),
    problems: problems.map(showProblem),
    copies,
    effects,
    approval: rule ? whyOf(rule) : null,
    holds: reading.holds,
    taxNote: taxDay.note,
  };
}

/** An invoice as it is kept. */
export interface Stored {
  supplierName: string;
  content: InvoiceInput;
  version: number;
  status: string;
  number: string | null;
  updatedBy: number;
  updatedByName: string;
  updatedAt: string;
  journalId: number | null;
  figures: string | null;
  company: string;
  createdBy: number;
  holds: string[];
  released: { by: number; reason: string; holds: string[] } | null;
}
export async function readStored(
  { tx }: Context,
  id: number,
  lock = true,
): Promise<Stored | undefined> {
  const [row] = await rows<Stored>(
    tx,
    sql`select coalesce((select s.name from partner s where s.id = i.partner_id),
        '') as "supplierName", i.content, i.version, d.status, d.number,
        i.updated_by as "updatedBy", p.name as "updatedByName", i.updated_at as "updatedAt",
        i.journal_id::int as "journalId", i.figures::text as figures, c.code as company,
        d.created_by as "createdBy", i.holds, i.released
          from invoice i join document d on d.id = i.document_id
            join company c on c.id = d.company_id join person p on p.id = i.updated_by
            where i.document_id = ${id} ${lock ? sql`for update of i` : sql``}`,
  );
  // What an older draft lacks is as it would be left out today.
  return row && { ...row, content: invoiceInput(row.content) };
}
