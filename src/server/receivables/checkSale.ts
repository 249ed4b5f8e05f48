import { sql } from "drizzle-orm";
import type { LetterLanguage } from "@/core/letters";
import { controlAccountOf, writtenCodingProblems, type Effect } from "@/core/ledger";
import {
  readSale,
  saleInput,
  type SaleContext,
  type SaleInput,
  type SaleReading,
} from "@/core/receivables";
import type { PartnerAddress } from "@/core/partners";
import { categoryOf, type TaxCategory } from "@/core/taxes";
import { fail, ok, type CalendarDate, type Found, type Result } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";
import { ruleFor, showProblem, whyOf, type ShownProblem } from "../ledger";
import { listTerms } from "../partners";
import { readShares } from "../purchasing";
import { readTaxCodes, type TaxDay } from "../taxes";
import { itemsNamed } from "./saleItems";
import {
  checkPapers,
  paperEffects,
  paperFigures,
  paperTaxDays,
  paperToApprove,
  type CheckedPaper,
  type PaperFigures,
} from "../trade";
import { creditAfter, type Credit } from "./credit";
import { correctedSale, type CorrectedSale } from "./correctedSale";
import { readDeferral } from "./deferral/policy";
import { prepaymentKey, prepaymentsNamed, readPrepaymentAccount } from "./prepayments";

/** The customer as the paper names it. */
export interface Buyer {
  code: string;
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
  email: string;
  taxNumber: string;
  language: LetterLanguage;
  /** Where what is sold goes, if not there; unknown of what was posted long ago. */
  delivery?: PartnerAddress | null;
}

/** What a sale came to when it was posted, and whom it went to. */
export interface SaleFigures extends PaperFigures {
  values: SaleReading["values"];
  buyer: Buyer | null;
  /** The day of its supply, where that is another than the invoice's. */
  suppliedOn?: CalendarDate | null;
  /** The terms in words. */
  terms: string;
  /** What each tax of it is to the tax office, and the text that the paper carries for that. */
  words: { code: string; name: string; category: TaxCategory; reason: string }[];
}

export interface SaleCheck extends SaleFigures {
  problems: ShownProblem[];
  effects: Effect[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
  taxNote: string;
  credit: Credit | null;
}

export interface ReadySale extends Pick<CheckedPaper, "drafts"> {
  reading: SaleReading;
  problems: Found[];
  taxDay: TaxDay;
  figures: SaleFigures;
  credit: Credit | null;
  corrected: CorrectedSale | null;
}

interface CustomerRow extends Buyer {
  terms: string | null;
  blocked: boolean;
  blocks: string[];
  blockReason: string;
}

interface Facts {
  customers: ReadonlyMap<string, CustomerRow>;
  termNames: ReadonlyMap<string, string>;
  context(input: SaleInput): SaleContext;
}

/** What sales are read with, in a number of queries that does not depend on how many they are. */
async function saleFacts(context: Context, inputs: readonly SaleInput[]): Promise<Facts> {
  const { tx, masters } = context;
  const codes = [...new Set(inputs.map((i) => i.customer.trim()))];
  const found = await rows<CustomerRow>(
    tx,
    sql`select code, name, street, postcode, city, country, email, tax_number as "taxNumber",
      case when delivery_city = '' then null else json_build_object('name', delivery_name,
        'street', delivery_street, 'postcode', delivery_postcode, 'city', delivery_city,
        'country', coalesce(nullif(delivery_country, ''), country)) end as delivery,
      language, terms, blocked, blocks, block_reason as "blockReason" from partner
      where customer and code = any(${arrayOf(codes)}::text[])`,
  );
  const customers = new Map(found.map((c) => [c.code, c]));
  const listed = await listTerms.definition.run(context, {});
  const terms = listed.ok ? listed.value : [];
  const countries = new Map(
    (await rows<{ code: string; country: string }>(tx, sql`select code, country from company`)).map(
      (c) => [c.code, c.country],
    ),
  );
  const lines = inputs.flatMap((i) => i.lines);
  const prepayments = await prepaymentsNamed(
    tx,
    [...inputs.map((i) => i.corrects), ...lines.map((l) => l.setsOff)].map((n) =>
      n.trim().toUpperCase(),
    ),
  );
  const shares = lines.some((l) => l.shares.trim() !== "") ? await readShares(tx) : [];
  const codesOfTax = (await readTaxCodes(tx, "sale")).filter((t) => !t.blocked);
  const common = {
    today: context.today,
    control: controlAccountOf(masters, "receivables"),
    controls: new Set(
      masters.accounts
        .filter((a) => a.control === "receivables" && a.type === "asset" && !a.blocked)
        .map((a) => a.number),
    ),
    taxCodes: new Map(codesOfTax.map((t) => [t.code, t])),
    terms: new Map(terms.map((t) => [t.code, t.terms])),
    shares: new Map(shares.map((s) => [s.code, s])),
    items: await itemsNamed(tx, lines),
    deferral: await readDeferral(tx),
    prepaymentAccount: await readPrepaymentAccount(tx),
  };
  return {
    customers,
    termNames: new Map(terms.map((t) => [t.code, t.name])),
    context: (input) => {
      const customer = customers.get(input.customer.trim());
      return {
        ...common,
        company: input.company,
        functional: masters.companyByCode.get(input.company)?.currency ?? "EUR",
        ownCountry: countries.get(input.company) ?? "",
        taxNumber: customer?.taxNumber ?? "",
        // Whether it leaves a country is told by where it goes.
        country: customer?.delivery?.country ?? customer?.country ?? "",
        partner: customer ? asPartner(customer, input.kind) : null,
        prepayments: new Map(
          [...prepayments].flatMap(([key, p]) =>
            key === prepaymentKey(input.company, input.customer.trim(), p.number)
              ? [[p.number, p] as const]
              : [],
          ),
        ),
      };
    },
  };
}

/** Whoever is blocked for invoices still gets a credit note. */
function asPartner(c: CustomerRow, kind: SaleInput["kind"]): SaleContext["partner"] {
  const forInvoices = c.blocks.includes("invoices") && kind === "invoice";
  return {
    code: c.code,
    name: c.name,
    terms: c.terms,
    blocked: c.blocked || forInvoices,
    why: c.blockReason,
  };
}

/** Reads sales as they would be invoiced, and nothing more. */
export async function readSales(
  context: Context,
  sales: readonly SaleInput[],
): Promise<SaleReading[]> {
  const facts = await saleFacts(context, sales);
  return sales.map((s) => readSale(s, facts.context(s)));
}

/** Reads and checks sales as they would be posted. `number` is given to one that is posted now. */
export async function prepareSales(
  context: Context,
  papers: readonly { input: SaleInput; id?: number | undefined; number?: string }[],
): Promise<Result<ReadySale[]>> {
  const { masters } = context;
  const unknown = papers.find((p) => !masters.companyByCode.has(p.input.company));
  if (unknown)
    return fail({ code: "COMPANY_UNKNOWN", company: unknown.input.company, field: "company" });
  const facts = await saleFacts(
    context,
    papers.map((p) => p.input),
  );
  const read = papers.map((p) => ({
    ...p,
    reading: readSale(p.input, facts.context(p.input), p.number),
  }));
  const checked = await checkPapers(
    context,
    read.map((r) => r.reading),
  );
  const days = await paperTaxDays(
    context,
    read.map(({ input, reading }) => ({ ...input, reading })),
  );
  const corrected = await correctedSale(context, read);
  const credits = await creditAfter(context, read, checked, (sales) => readSales(context, sales));
  return ok(
    read.map(({ input, reading }, i): ReadySale => {
      const { drafts, problems } = checked[i]!;
      const correction = corrected[i];
      return {
        reading,
        drafts,
        taxDay: days[i]!,
        corrected: correction?.sale ?? null,
        credit: credits[i]?.credit ?? null,
        figures: figuresOf(reading, input, facts),
        problems: [
          ...reading.problems,
          ...problems,
          ...reading.deferred.flatMap((d) =>
            writtenCodingProblems(masters, d.coding, { line: d.line }),
          ),
          ...(days[i]!.problem ? [days[i]!.problem] : []),
          ...(correction?.problem ? [correction.problem] : []),
          ...(credits[i]?.problem ? [credits[i].problem] : []),
        ],
      };
    }),
  );
}

function figuresOf(reading: SaleReading, input: SaleInput, facts: Facts): SaleFigures {
  const customer = facts.customers.get(input.customer.trim());
  const { taxCodes } = facts.context(input);
  const terms = input.terms.trim() || customer?.terms || "";
  return {
    ...paperFigures(reading),
    values: reading.values,
    buyer: customer ? buyerOf(customer) : null,
    suppliedOn: reading.suppliedOn,
    terms: facts.termNames.get(terms) ?? "",
    words: reading.taxes.flatMap((t) => {
      const code = taxCodes.get(t.code);
      if (!code || t.withheld) return [];
      return [{ code: t.code, name: code.name, category: categoryOf(code), reason: code.reason }];
    }),
  };
}

const buyerOf = (c: CustomerRow): Buyer => ({
  code: c.code,
  name: c.name,
  street: c.street,
  postcode: c.postcode,
  city: c.city,
  country: c.country,
  email: c.email,
  taxNumber: c.taxNumber,
  language: c.language,
  delivery: c.delivery ?? null,
});

export async function prepareSale(
  context: Context,
  input: SaleInput,
  id?: number,
  number?: string,
): Promise<Result<ReadySale>> {
  const ready = await prepareSales(context, [{ input, id, ...(number ? { number } : {}) }]);
  return ready.ok ? ok(ready.value[0]!) : ready;
}

/** What there is to say of a sale while it is written. */
export async function checkOf(
  context: Context,
  input: SaleInput,
  { reading, drafts, problems, taxDay, figures, credit }: ReadySale,
): Promise<SaleCheck> {
  const [rule] = await ruleFor(context, [paperToApprove(reading)]);
  return {
    ...figures,
    problems: problems.map(showProblem),
    effects: await paperEffects(context, input.company, drafts),
    approval: rule ? whyOf(rule) : null,
    taxNote: taxDay.note,
    credit,
  };
}

/** A sale as it is kept. */
export interface StoredSale {
  customerName: string;
  content: SaleInput;
  version: number;
  status: string;
  number: string | null;
  /** As the register has it. */
  date: string | null;
  updatedBy: number;
  updatedByName: string;
  updatedAt: string;
  journalId: number | null;
  figures: string | null;
  sentAt: string | null;
  company: string;
  createdBy: number;
}

export async function readStoredSale(
  { tx }: Context,
  id: number,
  lock = true,
): Promise<StoredSale | undefined> {
  const [row] = await rows<StoredSale>(
    tx,
    sql`select coalesce(c.name, '') as "customerName", s.content, s.version, d.status, d.number, d.date,
      s.updated_by as "updatedBy", p.name as "updatedByName", s.updated_at as "updatedAt",
      s.journal_id::int as "journalId", s.figures::text as figures, s.sent_at as "sentAt",
      o.code as company, d.created_by as "createdBy"
      from sale s join document d on d.id = s.document_id join company o on o.id = d.company_id
        join person p on p.id = s.updated_by left join partner c on c.id = s.partner_id
      where s.document_id = ${id} ${lock ? sql`for update of s` : sql``}`,
  );
  return row && { ...row, content: saleInput(row.content) };
}
