import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { approvalRuleSchema, type ApprovalRule } from "@/core/ledger";
import { fail, isCurrency, minor, ok, readAmount } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";

export const readRules = async ({ tx }: Context): Promise<ApprovalRule[]> =>
  (
    await rows<Omit<ApprovalRule, "minimum"> & { minimum: bigint }>(
      tx,
      sql`select r.id, r.type, c.code as company, r.account_from as "accountFrom",
        r.account_to as "accountTo", r.minimum, r.currency, r.role from approval_rule r left
        join company c on c.id = r.company_id order by r.sort, r.id`,
    )
  ).map((r) => ({ ...r, minimum: minor(r.minimum) }));

export const listApprovalRules = defineUseCase({
  name: "listApprovalRules",
  kind: "read",
  rights: ["read.setup", "setup.rules"],
  what: "see approval rules",
  of: "shared",
  schema: object(),
  run: async (context) => ok(await readRules(context)),
});

/** The company of a rule; null where it is one of the group. */
const placeOf = async ({ tx }: Context, id: number): Promise<(string | null)[]> =>
  (
    await rows<{ company: string | null }>(
      tx,
      sql`select c.code as company from approval_rule r left join company c on c.id = r.company_id
        where r.id = ${id}`,
    )
  ).map((r) => r.company);

export const saveApprovalRule = defineUseCase({
  name: "saveApprovalRule",
  kind: "write",
  rights: ["setup.rules"],
  what: "change approval rules",
  of: async (context, input) => [
    input.company,
    ...(input.id === undefined ? [] : await placeOf(context, input.id)),
  ],
  schema: approvalRuleSchema,
  run: async ({ tx, masters, audit }, input) => {
    if (input.type && !masters.typeByCode.has(input.type))
      return fail({ code: "TYPE_UNKNOWN", type: input.type, field: "type" });
    if (input.company && !masters.companyByCode.has(input.company))
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCurrency(input.currency))
      return fail({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
    const amount = readAmount(input.minimum || "0", input.currency);
    if (!amount.ok || amount.amount < 0n)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.minimum, field: "minimum" });
    const values = sql`${input.type || null},
      ${input.company ? masters.companyByCode.get(input.company)!.id : null},
      ${input.accountFrom || null}, ${input.accountTo || null}, ${amount.amount}, ${input.currency},
      ${input.role}`;
    const [saved] = input.id
      ? await rows<{ id: number }>(
          tx,
          sql`update approval_rule set (type, company_id, account_from, account_to, minimum,
            currency, role) = (${values}) where id = ${input.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into approval_rule (sort, type, company_id, account_from, account_to, minimum,
            currency, role) select coalesce(max(sort), 0) + 10, ${values} from approval_rule
            returning id`,
        );
    if (!saved) return fail({ code: "NOT_FOUND", what: "such rule" });
    await audit({
      action: input.id ? "changed" : "added",
      kind: "approval rule",
      recordId: saved.id,
      after: input,
    });
    return ok({ id: saved.id });
  },
});

export const deleteApprovalRule = defineUseCase({
  name: "deleteApprovalRule",
  kind: "write",
  rights: ["setup.rules"],
  what: "change approval rules",
  of: (context, input) => placeOf(context, input.id),
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, audit }, input) => {
    const gone = await rows(tx, sql`delete from approval_rule where id = ${input.id} returning id`);
    if (gone.length === 0) return fail({ code: "NOT_FOUND", what: "such rule" });
    await audit({ action: "deleted", kind: "approval rule", recordId: input.id });
    return ok({});
  },
});
