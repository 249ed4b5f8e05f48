import { number, object } from "yup";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import {
  keepRemark,
  namesCalled,
  remarksOn,
  remarkText,
  takesPart,
  takingPart,
  type Remark,
} from "../../documents";
import { readLine, type LineRow } from "./viewLine";

/** A line of a statement to those who are asked about it, with all that was said. */
export interface AskedLine {
  id: number;
  company: string;
  bank: string;
  booked: CalendarDate;
  amount: Minor;
  currency: string;
  party: string;
  text: string;
  state: LineRow["state"];
  remarks: Remark[];
  /** Whether the person sees the bank's lines altogether. */
  seesAll: boolean;
}

/** The line, where the person sees bank statements of its company or was asked about it. */
async function findAsked(context: Context, id: number): Promise<Result<LineRow>> {
  const line = await readLine(context, id);
  if (!line) return fail({ code: "NOT_FOUND", what: "such line of a statement" });
  return context.may("read.banks", line.company) ||
    (await takesPart(context, { statementLine: id }))
    ? ok(line)
    : fail({ code: "FORBIDDEN", what: `see bank statements of ${line.company}` });
}

/** A line with what was said about it: to treasury, and to whoever was called by name in it. */
export const askedLine = defineUseCase({
  name: "askedLine",
  kind: "read",
  rights: "signed-in",
  what: "see what was asked",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<AskedLine>> => {
    const found = await findAsked(context, input.id);
    if (!found.ok) return found;
    const l = found.value;
    return ok({
      id: Number(l.id),
      company: l.company,
      bank: l.bank,
      booked: l.booked,
      amount: minor(l.amount),
      currency: l.currency,
      party: l.name,
      text: l.text,
      state: l.state,
      remarks: await remarksOn(context.tx, { statementLine: input.id }),
      seesAll: context.may("read.banks", l.company),
    });
  },
});

/**
 * Says something about a line, or asks somebody: who is called by @ and the sign-in name sees that
 * line and answers, even without a right to see the bank's statements, but shows it to nobody else.
 */
export const remarkOnLine = defineUseCase({
  name: "remarkOnLine",
  kind: "write",
  rights: "signed-in",
  what: "say something about bank lines",
  of: "checked",
  schema: object({ id: number().integer().required(), text: remarkText() }),
  run: async (context, input): Promise<Result<{ id: number; called: string[] }>> => {
    const found = await findAsked(context, input.id);
    if (!found.ok) return found;
    const { company, name, text } = found.value;
    const subject = { statementLine: input.id };
    if (!context.may("read.banks", company)) {
      const known = await takingPart(context.tx, subject);
      const stranger = namesCalled(input.text).find((n) => !known.includes(n));
      if (stranger)
        return fail({ code: "FORBIDDEN", what: `show bank lines of ${company} to ${stranger}` });
    }
    const kept = await keepRemark(context, subject, input.text);
    if (!kept.ok) return kept;
    await context.audit({
      action: "commented",
      kind: "statement line",
      recordId: input.id,
      label: (name || text || "Bank movement").slice(0, 200),
      companyId: context.masters.companyByCode.get(company)!.id,
    });
    return kept;
  },
});
