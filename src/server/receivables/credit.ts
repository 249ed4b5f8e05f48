import { sql } from "drizzle-orm";
import type { SaleInput, SaleReading } from "@/core/receivables";
import { conversionOn, convertBy } from "@/core/rates";
import { amountText, minor, type Found, type Minor } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, readSetting, rows, type Db } from "../db";
import { ratesFor } from "../rates";
import type { CheckedPaper } from "../trade";
import { agreedAhead, type ReadSales } from "./agreements/agreedAhead";

/** What a customer may owe and would owe with a sale, in the company's currency. */
export interface Credit {
  currency: string;
  limit: Minor;
  /** What the customer owes this company now: a limit holds for each company by itself. */
  open: Minor;
  /** What agreements bring soon after it. */
  agreed: Minor;
  after: Minor;
  over: boolean;
}

/** What happens to an invoice that goes over the limit: it is only said, or refused. */
export const CREDIT_RULES = ["warn", "refuse"] as const;
export type CreditRule = (typeof CREDIT_RULES)[number];
export const creditRule = async ({ tx }: Context): Promise<CreditRule> =>
  (await readSetting<CreditRule>(tx, "credit.rule")) ?? "warn";

/** Days of agreements that count beside what is open; 30 where nobody has said otherwise. */
export const CREDIT_DAYS = "credit.days";
export const creditDays = async (tx: Db): Promise<number> =>
  (await readSetting<number>(tx, CREDIT_DAYS)) ?? 30;

interface Limit {
  customer: string;
  companyId: number;
  limit: bigint;
  currency: string;
  open: bigint;
}

/**
 * How each sale stands to its customer's limit; undefined where there is none and for credit notes.
 * Where no rate into the company's currency is known, nobody can tell: that is refused where passing
 * the limit would be.
 */
export async function creditAfter(
  context: Context,
  papers: readonly { input: SaleInput; reading: SaleReading }[],
  checked: readonly CheckedPaper[],
  read: ReadSales,
): Promise<({ credit: Credit | null; problem: Found | null } | undefined)[]> {
  const { tx, masters, today } = context;
  const companies = papers.map((p) => masters.companyByCode.get(p.input.company)!);
  const found = await rows<Limit>(
    tx,
    sql`select p.code as customer, x.company as "companyId", p.credit_limit as "limit",
      p.credit_currency as currency, coalesce((select sum(i.left_functional) from open_item i
        where i.partner = p.code and i.company_id = x.company and i.area = 'receivables'),
        0)::bigint as open
      from (select distinct * from unnest(${arrayOf(companies.map((c) => c.id))}::int[],
        ${arrayOf(papers.map((p) => p.input.customer.trim()))}::text[]) as u(company, customer)) x
        join partner p on p.code = x.customer where p.credit_limit is not null`,
  );
  if (found.length === 0) return papers.map(() => undefined);
  const rates = await ratesFor(
    tx,
    masters,
    found.map((f) => ({
      companies: [masters.companies.find((c) => c.id === f.companyId)!.code],
      currency: f.currency,
      date: today,
    })),
  );
  const rule = await creditRule(context);
  const limitOf = (i: number) =>
    found.find(
      (f) => f.customer === papers[i]!.input.customer.trim() && f.companyId === companies[i]!.id,
    );
  const agreed = await agreedAhead(
    context,
    papers.map(({ input, reading }, i) => ({
      company: input.company,
      customer: limitOf(i) && input.kind === "invoice" ? input.customer.trim() : "",
      after: reading.date || today,
    })),
    await creditDays(tx),
    read,
  );
  // What earlier ones of the same act add is open for the later ones.
  const added = new Map<Limit, bigint>();
  return papers.map(({ input, reading }, i) => {
    const company = companies[i]!;
    const own = limitOf(i);
    if (!own || input.kind === "credit note") return undefined;
    const rate = conversionOn(rates, "spot", own.currency, company.currency, today);
    if (!rate) return rule === "refuse" ? unknownLimit(own, company.currency) : undefined;
    const limit = convertBy(minor(own.limit), own.currency, company.currency, rate);
    const draft = checked[i]!.drafts.find((d) => d.draft.company === company.code);
    const sale = functionalGross(draft, reading);
    const open = minor(own.open + (added.get(own) ?? 0n));
    const after = minor(open + sale + agreed[i]!);
    added.set(own, (added.get(own) ?? 0n) + sale);
    const credit = {
      currency: company.currency,
      limit,
      open,
      agreed: agreed[i]!,
      after,
      over: after > limit,
    };
    return { credit, problem: credit.over && rule === "refuse" ? overLimit(credit) : null };
  });
}

/** What the customer's items come to in the ledger. */
function functionalGross(
  draft: CheckedPaper["drafts"][number] | undefined,
  { entry }: SaleReading,
): bigint {
  const control = new Set(entry.lines.filter((l) => l.item).map((l) => l.account));
  return (draft?.draft.lines ?? []).reduce(
    (t, l) =>
      control.has(l.account) && l.item ? t + (l.side === "debit" ? l.amount : -l.amount) : t,
    0n,
  );
}

export const overLimit = ({ after, agreed, limit, currency }: Credit): Found => ({
  code: "INVALID",
  what: `With it ${amountText(after, currency)} ${currency} would be open${agreed === 0n ? "" : ` or agreed (${amountText(agreed, currency)})`}, more than the limit of ${amountText(limit, currency)}`,
  field: "customer",
});

const unknownLimit = ({ currency }: Limit, company: string): { credit: null; problem: Found } => ({
  credit: null,
  problem: {
    code: "INVALID",
    what: `The credit limit is in ${currency}, and no rate from it into ${company} is known`,
    field: "customer",
  },
});
