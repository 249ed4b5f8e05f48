import { sql } from "drizzle-orm";
import { object } from "yup";
import { writeOffLimitSchema } from "@/core/openItems";
import { amountText, fail, minor, ok, readAmount, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows, type Db } from "../db";

export interface WriteOffLimit {
  id: number;
  version: number;
  login: string;
  person: string;
  company: string;
  currency: string;
  amount: Minor;
}

const LIST = sql`select w.id, w.version, p.login, p.name as person, c.code as company,
    c.currency, w.amount
  from write_off_limit w join person p on p.id = w.person_id join company c on c.id = w.company_id`;

/** How much each person may write off at once, by company. */
export const listWriteOffLimits = defineUseCase({
  name: "listWriteOffLimits",
  kind: "read",
  rights: ["read.setup", "setup.rules"],
  what: "see limits of writing off",
  of: "checked",
  schema: object(),
  run: async ({ tx, may }): Promise<Result<WriteOffLimit[]>> => {
    const all = await rows<WriteOffLimit>(tx, sql`${LIST} order by p.name, c.code`);
    return ok(all.filter((w) => may("read.setup", w.company) || may("setup.rules", w.company)));
  },
});

/** Says how much a person may write off at once in a company; nobody says it of themselves. */
export const saveWriteOffLimit = defineUseCase({
  name: "saveWriteOffLimit",
  kind: "write",
  rights: ["setup.rules"],
  what: "set limits of writing off",
  company: (i) => i.company,
  schema: writeOffLimitSchema,
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [whose] = await rows<{ id: number; name: string }>(
      tx,
      sql`select id, name from person where login = ${input.person} for update`,
    );
    if (!whose) return fail({ code: "NOT_FOUND", what: `person ${input.person}`, field: "person" });
    if (whose.id === person.id)
      return fail({
        code: "INVALID",
        what: "Somebody else says how much you may write off",
        field: "person",
      });
    const read = readAmount(input.limit, company.currency);
    if (!read.ok || read.amount < 0n)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.limit, field: "limit" });
    const [before] = await rows<WriteOffLimit>(
      tx,
      sql`${LIST} where w.person_id = ${whose.id} and w.company_id = ${company.id} for update of w`,
    );
    if (before && input.id === undefined)
      return fail({
        code: "EXISTS",
        what: `A limit of ${whose.name} in ${company.code}`,
        field: "person",
      });
    if (input.id !== undefined && before?.id !== input.id)
      return fail({ code: "NOT_FOUND", what: "such limit", field: "person" });
    if (before && before.version !== input.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into write_off_limit (person_id, company_id, amount)
        values (${whose.id}, ${company.id}, ${read.amount})
        on conflict (person_id, company_id) do update set amount = excluded.amount,
          version = write_off_limit.version + 1 returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "limit of writing off",
      recordId: saved!.id,
      label: `${input.person}, ${company.code}`,
      companyId: company.id,
      before,
      after: { ...input, amount: String(read.amount) },
    });
    return ok({ id: saved!.id });
  },
});

/** Whether a person may settle items by so much without money for it, in the company's currency. */
export async function mayWriteOff(
  { tx, person }: Context,
  company: { id: number; code: string; currency: string },
  amount: Minor,
  field: string,
): Promise<Result<unknown>> {
  if (amount === 0n) return ok({});
  const limit = await limitOf(tx, person.id, company.id);
  if (amount <= limit) return ok({});
  const text = (a: Minor) => `${amountText(a, company.currency)} ${company.currency}`;
  return fail({
    code: "INVALID",
    what:
      limit === 0n
        ? `${text(amount)} of the items would be settled without money, and you may write off nothing in ${company.code}: leave it open, or ask somebody who may`
        : `${text(amount)} of the items would be settled without money; you may write off ${text(limit)} at once: leave it open, or ask somebody who may`,
    field,
  });
}

async function limitOf(tx: Db, personId: number, companyId: number): Promise<Minor> {
  const [row] = await rows<{ amount: bigint }>(
    tx,
    sql`select amount from write_off_limit
      where person_id = ${personId} and company_id = ${companyId}`,
  );
  return minor(row?.amount ?? 0n);
}
