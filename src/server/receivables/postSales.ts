import { sql } from "drizzle-orm";
import type { SaleInput } from "@/core/receivables";
import { encodeJson, fail, ok, readDate, type Found, type Result } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";
import { documentLinks, giveNumbers, takeNumbers } from "../documents";
import { keepAll } from "../keptDocuments";
import { ruleFor, whyOf } from "../ledger";
import { paperToApprove, postPapers } from "../trade";
import { prepareSales, type ReadySale } from "./checkSale";
import { keepDeferred } from "./deferral/keepDeferred";
import { keepPrepaid } from "./prepayments";
import { SALES } from "./keepSales";

export interface PostedSale {
  id: number;
  number: string;
  journal: string;
}

interface Paper {
  /** As it is kept. */
  id: number;
  content: SaleInput;
}

/**
 * Posts invoices and credit notes to customers, all or none, in a number of statements that does not
 * depend on how many they are. Numbers are taken first, since journals and items say them; whatever
 * then stands against one gives them back with the transaction.
 */
export async function postSales(
  context: Context,
  papers: readonly Paper[],
  how: { approved: boolean },
): Promise<Result<PostedSale[]>> {
  const { tx, masters } = context;
  const unknown = papers.find((p) => !masters.companyByCode.has(p.content.company));
  if (unknown)
    return fail({
      code: "COMPANY_UNKNOWN",
      company: unknown.content.company,
      field: "company",
    });
  const numbers = await numbersFor(context, papers);
  const prepared = await prepareSales(
    context,
    papers.map(({ id, content }, i) => ({ id, input: content, number: numbers[i]! })),
  );
  if (!prepared.ok) return prepared;
  const ready = prepared.value;
  const against = ready.find((r) => r.problems.length > 0);
  if (against) return fail(...(against.problems as [Found, ...Found[]]));
  if (!how.approved) {
    const rules = await ruleFor(
      context,
      ready.map((r) => paperToApprove(r.reading)),
    );
    const rule = rules.find((r) => r);
    if (rule) return fail({ code: "APPROVAL_NEEDED", why: whyOf(rule) });
  }
  const posted = await postPapers(
    context,
    papers.map(({ id, content }, i) => ({
      id,
      company: content.company,
      kind: content.kind,
      direction: "sale" as const,
      reading: ready[i]!.reading,
      drafts: ready[i]!.drafts,
      reportedOn: ready[i]!.taxDay.on,
    })),
  );
  if (!posted.ok) return posted;
  const done = papers.map(({ id }, i) => ({
    id,
    number: numbers[i]!,
    journal: posted.value[i]!.journals[0]!,
  }));
  await documentLinks(
    tx,
    "corrects",
    ready.flatMap((r, i) => (r.corrected ? [[papers[i]!.id, r.corrected.id] as const] : [])),
  );
  await giveNumbers(tx, done, "posted");
  await keepFigures(context, done, ready);
  await keepDeferred(
    context,
    papers.map(({ id, content }, i) => ({
      id,
      companyId: masters.companyByCode.get(content.company)!.id,
      journal: posted.value[i]!.journals[0]!.id,
      deferred: ready[i]!.reading.deferred,
    })),
  );
  const kept = await keepPrepaid(
    context,
    papers.map(({ id, content }, i) => ({
      id,
      companyId: masters.companyByCode.get(content.company)!.id,
      prepaid: ready[i]!.reading.prepaid,
    })),
  );
  if (!kept.ok) return kept;
  await context.audit(
    ...papers.map(({ id, content }, i) => ({
      action: "posted",
      kind: "sale",
      recordId: id,
      label: numbers[i]!,
      companyId: masters.companyByCode.get(content.company)!.id,
      after: { journals: posted.value[i]!.journals.map((j) => j.number) },
    })),
  );
  return ok(done.map(({ id, number, journal }) => ({ id, number, journal: journal.number })));
}

/** What each came to, as it was posted: whatever becomes of tax codes, terms and customers. */
const keepFigures = (
  { tx }: Context,
  done: readonly { id: number; journal: { id: number } }[],
  ready: readonly ReadySale[],
) =>
  tx.execute(
    sql`update sale s set journal_id = x.journal, figures = x.figures
      from unnest(${arrayOf(done.map((d) => d.id))}::bigint[],
        ${arrayOf(done.map((d) => d.journal.id))}::bigint[],
        ${arrayOf(ready.map((r) => encodeJson(r.figures)))}::jsonb[]) as x(id, journal, figures)
      where s.document_id = x.id`,
  );

/**
 * Numbers of the series by the fiscal year of each paper's day; "" where its day has no year or is
 * none, which the paper's own checks say.
 */
async function numbersFor(
  { tx, masters, today }: Context,
  papers: readonly Paper[],
): Promise<string[]> {
  const placed = papers.map(({ content: { company, date, postingDate } }) => ({
    company: masters.companyByCode.get(company)!,
    day: readDate(postingDate.trim() || date, today),
  }));
  const years = await rows<{ n: number; id: number; name: string }>(
    tx,
    sql`select distinct on (x.n) x.n, y.id, y.name
      from unnest(${arrayOf(placed.map((_, i) => i))}::int[],
        ${arrayOf(placed.map((p) => p.company.id))}::int[],
        ${arrayOf(placed.map((p) => p.day))}::date[]) as x(n, company, day)
        join fiscal_year y on y.company_id = x.company
        join period d on d.year_id = y.id and x.day between d.start_date and d.end_date
      order by x.n`,
  );
  const taken = await takeNumbers(
    tx,
    years.map(({ n, id, name }) => ({
      series: "sale",
      company: placed[n]!.company,
      year: { id, name },
    })),
  );
  const numbers = papers.map(() => "");
  years.forEach(({ n }, i) => (numbers[n] = taken[i]!.number));
  return numbers;
}

/** Keeps new ones and posts them at once, all or none. */
export async function keepAndPostSales(
  context: Context,
  contents: readonly SaleInput[],
): Promise<Result<PostedSale[]>> {
  const prepared = await prepareSales(
    context,
    contents.map((input) => ({ input })),
  );
  if (!prepared.ok) return prepared;
  const kept = await keepAll(
    SALES,
    context,
    contents.map((content, i) => ({ content, prepared: prepared.value[i]! })),
  );
  return postSales(
    context,
    contents.map((content, i) => ({ id: kept[i]!.id, content })),
    { approved: false },
  );
}
