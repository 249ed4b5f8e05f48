import { array, boolean, object, string } from "yup";
import { checkDraft, type DraftLine, type JournalDraft } from "@/core/ledger";
import {
  describeFound,
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  textRecord,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase } from "../access";
import { loadPostingContext, postDrafts } from "./posting";

/**
 * Opening balances from a file: columns account, debit, credit, and where wanted description,
 * partner and one column per dimension by its code.
 * They post as one opening journal that has to balance, through the one way into the ledger.
 * Without `take` it only checks.
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
    rows: array(textRecord()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const { masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const problems: Found[] = [];
    const lines: DraftLine[] = [];
    const rowOf: number[] = [];
    input.rows.forEach((row, i) => {
      const sides = (["debit", "credit"] as const).filter((s) => row[s]);
      if (sides.length !== 1)
        return void problems.push({
          code: "INVALID",
          what: `Row ${i + 2}: a row has a debit or a credit`,
        });
      const reading = readAmount(row[sides[0]!]!, company.currency);
      if (!reading.ok)
        return void problems.push({
          code: "INVALID",
          what: `Row ${i + 2}: “${row[sides[0]!]!.slice(0, 30)}” is not an amount in ${company.currency}`,
        });
      lines.push({
        account: row.account ?? "",
        side: sides[0]!,
        amount: minor(reading.amount),
        description: row.description ?? "",
        dimensions: Object.fromEntries(
          masters.dimensions.map((d) => [d.code, row[d.code.toLowerCase()] ?? ""]),
        ),
        ...(row.partner ? { partner: row.partner } : {}),
      });
      rowOf.push(i + 2);
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
    if (input.take) {
      const posted = await postDrafts(context, [draft]);
      if (!posted.ok) return posted;
    }
    return ok({ added: lines.length, changed: 0, same: 0 });
  },
});
