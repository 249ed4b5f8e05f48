import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import { checkDraft, readOpening, type JournalDraft } from "@/core/ledger";
import {
  describeFound,
  fail,
  isCalendarDate,
  ok,
  tableRow,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows } from "../db";
import { loadPostingContext, postDrafts } from "./posting";

export interface LoadedOpening {
  added: number;
  changed: number;
  same: number;
  /** How the file was read where it could be read otherwise, and what it may repeat. */
  notes: string[];
  /** The number of a posted opening of the same day and total; null where there is none. */
  before: string | null;
  /** The number of the journal, once it is posted. */
  journal: string | null;
}

/** A standing opening of the company on the day, over the same total. */
async function openedBefore(
  { tx }: Context,
  companyId: number,
  { date, lines }: JournalDraft,
): Promise<string | null> {
  const total = lines.reduce((sum, l) => (l.side === "debit" ? sum + l.amount : sum), 0n);
  const [found] = await rows<{ number: string }>(
    tx,
    sql`select j.number from journal j join journal_type t on t.id = j.type_id
      where j.company_id = ${companyId} and t.code = 'opening' and j.date = ${date}
        and j.total = ${total} and j.line_count = ${lines.length} and j.reverses_id is null
        and not exists (select 1 from journal r where r.reverses_id = j.id)
      order by j.id desc limit 1`,
  );
  return found?.number ?? null;
}

/**
 * Opening balances from a file, as one opening journal that has to balance in functional currency,
 * through the one way into the ledger. Without `take` it only checks. The same opening once more
 * asks to be confirmed.
 */
export const loadOpening = defineUseCase({
  name: "loadOpening",
  kind: "write",
  rights: ["period.ledger"],
  what: "load opening balances",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    date: string().required(),
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
    /** That an opening which is there already is meant to be posted again. */
    confirmed: boolean().default(false),
  }),
  run: async (context, input): Promise<Result<LoadedOpening>> => {
    const { masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const { lines, rowOf, problems, notes } = readOpening(input.rows, {
      currency: company.currency,
      dimensions: masters.dimensions,
    });
    if (problems.length > 0) return fail(...problems);
    const draft: JournalDraft = {
      company: company.code,
      type: "opening",
      book: null,
      date: input.date,
      description: "Opening balances",
      lines,
    };
    const found = checkDraft(draft, await loadPostingContext(context, [draft]));
    if (found.length > 0)
      return fail(
        ...found.map((p): Found => ({
          code: "INVALID",
          what:
            p.line === undefined
              ? describeFound(p).replace(/\.$/, "")
              : `Row ${rowOf[p.line - 1]}: ${describeFound({ ...p, line: undefined } as never).replace(/\.$/, "")}`,
        })),
      );
    const before = await openedBefore(context, company.id, draft);
    const result = { added: lines.length, changed: 0, same: 0, notes, before, journal: null };
    if (!input.take) return ok(result);
    if (before && !input.confirmed)
      return fail({
        code: "INVALID",
        what: `An opening of the same day and total is posted as ${before}; confirm that it is meant to be posted again`,
        field: "confirmed",
      });
    const posted = await postDrafts(context, [draft]);
    return posted.ok ? ok({ ...result, journal: posted.value[0]!.number }) : posted;
  },
});
