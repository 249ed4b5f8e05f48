import { atEntry, checkDraft, expandEntry, type Effect } from "@/core/ledger";
import { isCalendarDate, type Found } from "@/core/shared";
import type { PaperReading } from "@/core/trade";
import type { Context } from "../access";
import { effectIn, loadPostingContext } from "../ledger";
import { ratesFor } from "../rates";
import { taxDays, type TaxDay } from "../taxes";

/** The journals that a trade document becomes, and what the ledger says against them. */
export interface CheckedPaper {
  drafts: ReturnType<typeof expandEntry>["drafts"];
  problems: Found[];
}

/**
 * Checks trade documents as they would be posted, with the problems at the lines as written; in a
 * number of queries that does not depend on how many they are.
 */
export async function checkPapers(
  context: Context,
  readings: readonly PaperReading[],
): Promise<CheckedPaper[]> {
  const { tx, masters } = context;
  const read = readings.map((reading) => ({
    reading,
    companies: [
      ...new Set([reading.entry.company, ...reading.entry.lines.flatMap((l) => l.company ?? [])]),
    ],
  }));
  const rates = await ratesFor(
    tx,
    masters,
    read.map(({ reading: { entry }, companies }) => ({
      companies,
      currency: entry.currency,
      date: entry.date,
    })),
  );
  const posting = await loadPostingContext(
    context,
    read.flatMap(({ reading: { entry }, companies }) =>
      companies.map((company) => ({
        company,
        date: entry.date,
        type: entry.type,
        lines: entry.lines,
      })),
    ),
  );
  return readings.map((reading) => {
    const { drafts, problems: expanding } = expandEntry(reading.entry, { masters, rates });
    const unclear = reading.problems.length > 0 || expanding.length > 0;
    const problems = [
      ...expanding,
      ...drafts.flatMap(({ draft, sources }) =>
        checkDraft(draft, posting).map((p) => atEntry(p, sources)),
      ),
    ].flatMap((p) => asWritten(p, reading, unclear));
    return { drafts, problems };
  });
}

const FOLLOWS = ["UNBALANCED", "FOREIGN_UNBALANCED", "NO_LINES", "VALUE_UNBALANCED"];

/** A problem of a journal at the line and field of the paper; nothing where the paper says it. */
function asWritten(p: Found, reading: PaperReading, unclear: boolean): Found[] {
  // What follows from a problem of the reading is not said twice.
  if (unclear && FOLLOWS.includes(p.code)) return [];
  const ofDate = p.field === "date" && p.code === "DATE_INVALID";
  if (ofDate && reading.problems.some((q) => q.field === "date")) return [];
  const { line, ...rest } = p;
  const written = line === undefined ? undefined : reading.sources[line - 1];
  const added = line !== undefined && (written === null || written === undefined);
  if (added && p.code === "PARTNER_UNKNOWN") return [];
  const field = fieldOf(p.field, reading);
  return [{ ...rest, ...(field ? { field } : {}), ...(written ? { line: written } : {}) } as Found];
}

function fieldOf(field: string | undefined, { entry, date }: PaperReading): string | undefined {
  if (field === "debit" || field === "credit") return "net";
  return field === "date" && entry.date !== date ? "postingDate" : field;
}

/** Where the taxes of each are reported; one without taxes, or without a date, says nothing. */
export async function paperTaxDays(
  { tx, masters }: Context,
  papers: readonly { company: string; taxPeriod: string; reading: PaperReading }[],
): Promise<TaxDay[]> {
  const none: TaxDay = { on: null, note: "", problem: null };
  const taxed = papers.filter((p) => p.reading.taxes.length > 0 && isCalendarDate(p.reading.date));
  const found = await taxDays(
    tx,
    taxed.map(({ company, taxPeriod, reading }) => ({
      companyId: masters.companyByCode.get(company)!.id,
      day: reading.date,
      period: taxPeriod.trim(),
      direction: reading.entry.type === "sales" ? "sale" : "purchase",
    })),
  );
  const days = new Map(taxed.map((p, i) => [p, found[i]!]));
  return papers.map((p) => days.get(p) ?? none);
}

/** What posting it does to the balances of its company. */
export async function paperEffects(
  context: Context,
  companyOf: string,
  drafts: CheckedPaper["drafts"],
): Promise<Effect[]> {
  const { tx, masters } = context;
  const own = drafts.find((d) => d.draft.company === companyOf);
  if (!own || !isCalendarDate(own.draft.date)) return [];
  const { date, lines, type } = own.draft;
  const company = masters.companyByCode.get(companyOf)!;
  const { periods } = await loadPostingContext(context, [{ company: companyOf, date, type }]);
  const period = periods.find(
    (p) => p.companyId === company.id && !p.adjustment && p.start <= date && date <= p.end,
  );
  if (!period) return [];
  return [await effectIn(tx, masters, company.id, masters.mainBook!.id, period, lines)];
}

/** What rules of approval look at. */
export const paperToApprove = ({ entry }: PaperReading) => ({
  type: entry.type,
  company: entry.company,
  date: entry.date,
  currency: entry.currency,
  lines: entry.lines,
});

/**
 * What a trade document comes to, in its currency: computed while it is a draft, kept as it was once
 * it is posted.
 */
export type PaperFigures = Pick<
  PaperReading,
  "lines" | "taxes" | "net" | "tax" | "gross" | "currency" | "instalments"
>;
export const paperFigures = ({
  lines,
  taxes,
  net,
  tax,
  gross,
  currency,
  instalments,
}: PaperReading): PaperFigures => ({ lines, taxes, net, tax, gross, currency, instalments });
