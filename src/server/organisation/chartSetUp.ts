import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  ACCOUNT_PURPOSES,
  CONTROL_OF_PURPOSE,
  accountSchema,
  headingSchema,
  liesBelowItself,
  type DimensionRule,
} from "@/core/ledger";
import { fail, isCurrency, ok } from "@/core/shared";
import { arrayOf, rows, writeSetting } from "../db";
import { defineUseCase, type Context } from "../access";

export const saveHeading = defineUseCase({
  name: "saveHeading",
  kind: "write",
  rights: ["setup.organisation"],
  what: "change the chart of accounts",
  of: "group",
  schema: headingSchema,
  run: async ({ tx, masters, audit }, input) => {
    if (masters.accountByNumber.has(input.code))
      return fail({ code: "EXISTS", what: `Account ${input.code}`, field: "code" });
    // As they stand now, not as they were when the run began: a file brings several.
    const all = await rows<{ code: string; parent: string | null }>(
      tx,
      sql`select h.code, p.code as parent from heading h left join heading p on p.id = h.parent_id`,
    );
    const above = new Map(all.map((h) => [h.code, h]));
    above.set(input.code, { code: input.code, parent: input.parent });
    if (liesBelowItself(input.code, above))
      return fail({
        code: "INVALID",
        what: `Heading ${input.code} would lie below itself`,
        field: "parent",
      });
    const [parent] = input.parent
      ? await rows<{ id: number }>(tx, sql`select id from heading where code = ${input.parent}`)
      : [];
    if (input.parent && !parent)
      return fail({ code: "NOT_FOUND", what: `heading ${input.parent}`, field: "parent" });
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into heading (code, name, parent_id, sort) values (${input.code}, ${input.name},
        ${parent?.id ?? null}, (select coalesce(max(sort), 0) + 10 from heading))
          on conflict (code) do update set name = excluded.name, parent_id = excluded.parent_id returning id`,
    );
    await audit({
      action: "saved",
      kind: "heading",
      recordId: saved!.id,
      label: input.code,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

export const saveAccount = defineUseCase({
  name: "saveAccount",
  kind: "write",
  rights: ["setup.organisation"],
  what: "change the chart of accounts",
  of: "group",
  schema: accountSchema,
  run: async ({ tx, masters, audit }, input) => {
    const [heading] = await rows<{ id: number }>(
      tx,
      sql`select id from heading where code = ${input.heading}`,
    );
    if (!heading)
      return fail({ code: "NOT_FOUND", what: `heading ${input.heading}`, field: "heading" });
    if (masters.headings.some((h) => h.code === input.number))
      return fail({ code: "EXISTS", what: `Heading ${input.number}`, field: "number" });
    const before = masters.accountByNumber.get(input.number);
    if (
      before &&
      (before.type !== input.type || before.control !== input.control) &&
      (await hasPostings(tx, before.id))
    )
      return fail({
        code: "IN_USE",
        what: `Account ${before.number} has postings; its type and control kind stay as they are`,
        field: "type",
      });
    const currency = input.currency || null;
    if (currency && !isCurrency(currency))
      return fail({ code: "CURRENCY_UNKNOWN", currency, field: "currency" });
    if (before && currency && before.currency !== currency) {
      const [other] = await rows<{ currency: string }>(
        tx,
        sql`select currency from journal_line where account_id = ${before.id}
          and currency <> ${currency} and foreign_amount <> 0 limit 1`,
      );
      if (other)
        return fail({
          code: "IN_USE",
          what: `Account ${before.number} has postings in ${other.currency}; it can't take ${currency} only`,
          field: "currency",
        });
    }
    const unknown = input.companies.find((c) => !masters.companyByCode.has(c));
    if (unknown) return fail({ code: "COMPANY_UNKNOWN", company: unknown, field: "companies" });
    const companyIds =
      input.companies.length > 0
        ? arrayOf(input.companies.map((c) => masters.companyByCode.get(c)!.id))
        : null;
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into account (number, name, type, control, monetary, heading_id, blocked,
        company_ids, currency) values (${input.number}, ${input.name}, ${input.type}, ${input.control},
        ${input.monetary}, ${heading.id}, ${input.blocked}, ${companyIds}::int[],
        ${currency})
          on conflict (number) do update set name = excluded.name, type = excluded.type,
            control = excluded.control, monetary = excluded.monetary,
            heading_id = excluded.heading_id, blocked = excluded.blocked,
            company_ids = excluded.company_ids, currency = excluded.currency
            returning id`,
    );
    await tx.execute(sql`delete from account_dimension where account_id = ${saved!.id}`);
    for (const [dimensionCode, rule] of Object.entries(input.rules)) {
      const [dimension] = await rows<{ id: number }>(
        tx,
        sql`select id from dimension where code = ${dimensionCode}`,
      );
      if (!dimension)
        return fail({ code: "DIMENSION_UNKNOWN", dimension: dimensionCode, field: "rules" });
      if (!["required", "allowed", "forbidden"].includes(rule))
        return fail({
          code: "INVALID",
          what: "A dimension is required, allowed or forbidden",
          field: "rules",
        });
      await tx.execute(
        sql`insert into account_dimension (account_id, dimension_id, rule)
          values (${saved!.id}, ${dimension.id}, ${rule as DimensionRule})`,
      );
    }
    await audit({
      action: before ? "changed" : "added",
      kind: "account",
      recordId: saved!.id,
      label: input.number,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

async function hasPostings(tx: Context["tx"], accountId: number): Promise<boolean> {
  const [row] = await rows<{ there: boolean }>(
    tx,
    sql`select exists (select 1 from account_balance where account_id = ${accountId}) as there`,
  );
  return row!.there;
}

/** The accounts that the system posts to by itself, by purpose. */
export const postingAccounts = defineUseCase({
  name: "postingAccounts",
  kind: "read",
  rights: ["read.setup", "setup.rules", "setup.organisation"],
  what: "see posting accounts",
  of: "shared",
  schema: object(),
  run: async ({ masters }) =>
    ok(
      ACCOUNT_PURPOSES.map((purpose) => {
        const account = masters.purposes[purpose] ?? "";
        return { purpose, account, name: masters.accountByNumber.get(account)?.name ?? "" };
      }),
    ),
});

/** The account that the system posts to for a purpose. */
export const savePurpose = defineUseCase({
  name: "savePurpose",
  kind: "write",
  rights: ["setup.rules", "setup.organisation"],
  what: "set posting accounts",
  of: "group",
  schema: object({
    purpose: string().oneOf(ACCOUNT_PURPOSES).required(),
    account: string().required("An account is needed"),
  }),
  run: async ({ tx, masters, audit }, input) => {
    const account = masters.accountByNumber.get(input.account);
    if (!account)
      return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
    const control = CONTROL_OF_PURPOSE[input.purpose];
    if (account.type === "units" || account.control !== (control ?? null))
      return fail({
        code: "INVALID",
        what: control
          ? `Account ${account.number} is no control account of money under way (transit)`
          : `Account ${account.number} takes no such postings`,
        field: "account",
      });
    await writeSetting(tx, `account.${input.purpose}`, input.account);
    await audit({
      action: "changed",
      kind: "posting account",
      recordId: input.purpose,
      before: masters.purposes[input.purpose],
      after: input.account,
    });
    return ok({});
  },
});
