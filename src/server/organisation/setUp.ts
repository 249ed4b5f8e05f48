import { taxNumberFits } from "@/core/partners";
import {
  companySchema,
  dimensionSchema,
  dimensionValueSchema,
  pairSchema,
} from "@/core/organisation";
import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import {
  ACCOUNT_PURPOSES,
  accountSchema,
  headingSchema,
  liesBelowItself,
  writtenAccountProblem,
  type DimensionRule,
} from "@/core/ledger";
import { fail, isCurrency, ok } from "@/core/shared";
import { arrayOf, rows, writeSetting } from "../db";
import { defineUseCase, type Context } from "../access";

export const saveCompany = defineUseCase({
  name: "saveCompany",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up companies",
  of: "group",
  schema: companySchema,
  run: async ({ tx, masters, audit }, input) => {
    if (!isCurrency(input.currency))
      return fail({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
    if (!taxNumberFits(input.taxNumber, input.country))
      return fail({
        code: "INVALID",
        what: `“${input.taxNumber}” has not the form of a tax number of ${input.country}`,
        field: "taxNumber",
      });
    const before = masters.companyByCode.get(input.code);
    if (before && before.currency !== input.currency) {
      const [used] = await rows<{ there: boolean }>(
        tx,
        sql`select exists (select 1 from journal where company_id = ${before.id}) as there`,
      );
      if (used!.there)
        return fail({
          code: "IN_USE",
          what: `${before.name} has postings in ${before.currency}, which stays its functional currency`,
          field: "currency",
        });
    }
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into company (code, name, currency, country, street, postcode, city, tax_number,
        lei) values (${input.code}, ${input.name}, ${input.currency}, ${input.country},
        ${input.street}, ${input.postcode}, ${input.city}, ${input.taxNumber}, ${input.lei})
          on conflict (code) do update set name = excluded.name, currency = excluded.currency,
            country = excluded.country, street = excluded.street, postcode = excluded.postcode,
            city = excluded.city, tax_number = excluded.tax_number, lei = excluded.lei
            returning id`,
    );
    await tx.execute(
      sql`insert into chain (company_id) values (${saved!.id}) on conflict do nothing`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "company",
      recordId: saved!.id,
      label: input.code,
      companyId: saved!.id,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

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

export const saveDimension = defineUseCase({
  name: "saveDimension",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up dimensions",
  of: "group",
  schema: dimensionSchema,
  run: async ({ tx, masters, audit }, input) => {
    const before = masters.dimensionByCode.get(input.code);
    const balancing = input.balancing ?? before?.balancing ?? "no";
    const account =
      input.balancingAccount === undefined
        ? (before?.balancingAccount ?? null)
        : input.balancingAccount || null;
    if (balancing === "add" && !account)
      return fail({
        code: "REQUIRED",
        what: "The account between the values",
        field: "balancingAccount",
      });
    const fault = writtenAccountProblem(masters, account ?? "", { field: "balancingAccount" });
    if (fault) return fail(fault);
    const slot =
      before?.slot ??
      Array.from({ length: 16 }, (_, i) => i + 1).find(
        (s) => !masters.dimensions.some((d) => d.slot === s),
      );
    if (!slot)
      return fail({
        code: "INVALID",
        what: "Sixteen dimensions are in use, and there can be no more",
      });
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into dimension (slot, code, name, balancing, balancing_account)
        values (${slot}, ${input.code}, ${input.name}, ${balancing}, ${account})
        on conflict (code) do update set name = excluded.name, balancing = excluded.balancing,
        balancing_account = excluded.balancing_account returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "dimension",
      recordId: saved!.id,
      label: input.code,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

export const saveDimensionValue = defineUseCase({
  name: "saveDimensionValue",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up dimension values",
  of: "group",
  schema: dimensionValueSchema,
  run: async ({ tx, masters, audit }, input) => {
    const dimension = masters.dimensionByCode.get(input.dimension);
    if (!dimension)
      return fail({ code: "DIMENSION_UNKNOWN", dimension: input.dimension, field: "dimension" });
    const before = masters.value(dimension.id, input.code);
    const [parent] = input.parent
      ? await rows<{ id: number }>(
          tx,
          sql`select id from dimension_value where dimension_id = ${dimension.id} and code = ${input.parent}`,
        )
      : [];
    if (input.parent && !parent)
      return fail({
        code: "VALUE_UNKNOWN",
        dimension: dimension.name.toLowerCase(),
        value: input.parent,
        field: "parent",
      });
    if (before && parent && masters.branch(before.id).includes(parent.id))
      return fail({
        code: "INVALID",
        what: `${input.parent} lies below ${input.code}`,
        field: "parent",
      });
    for (const [dimensionCode, value] of Object.entries(input.proposes)) {
      const other = masters.dimensionByCode.get(dimensionCode);
      if (!other)
        return fail({ code: "DIMENSION_UNKNOWN", dimension: dimensionCode, field: "proposes" });
      if (!masters.value(other.id, value))
        return fail({
          code: "VALUE_UNKNOWN",
          dimension: other.name.toLowerCase(),
          value,
          field: `proposes.${dimensionCode}`,
        });
    }
    const [responsible] = input.responsible
      ? await rows<{ id: number }>(
          tx,
          sql`select id from person where login = ${input.responsible}`,
        )
      : [];
    if (input.responsible && !responsible)
      return fail({ code: "NOT_FOUND", what: `person ${input.responsible}`, field: "responsible" });
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into dimension_value (dimension_id, code, name, parent_id, active_from, active_to,
        blocked, responsible_id, proposes)
          values (${dimension.id}, ${input.code}, ${input.name}, ${parent?.id ?? null},
            ${input.activeFrom}, ${input.activeTo}, ${input.blocked},
            ${input.responsible === undefined ? (before?.responsibleId ?? null) : (responsible?.id ?? null)},
            ${JSON.stringify(input.proposes)}::jsonb)
          on conflict (dimension_id, code) do update set name = excluded.name,
            parent_id = excluded.parent_id, active_from = excluded.active_from,
            active_to = excluded.active_to, blocked = excluded.blocked,
            responsible_id = excluded.responsible_id, proposes = excluded.proposes returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "dimension value",
      recordId: saved!.id,
      label: `${input.dimension} ${input.code}`,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

/**
 * Two companies as partners in trade: the accounts due from and due to of each side, and the type
 * of the journal on the other side.
 */
export const savePair = defineUseCase({
  name: "savePair",
  kind: "write",
  rights: ["setup.rules", "setup.organisation"],
  what: "set up partners in trade",
  of: "group",
  schema: pairSchema,
  run: async ({ tx, masters, audit }, input) => {
    for (const field of ["first", "second"] as const)
      if (!masters.companyByCode.has(input[field]))
        return fail({ code: "COMPANY_UNKNOWN", company: input[field], field });
    if (input.first === input.second)
      return fail({
        code: "INVALID",
        what: "A company does not trade with itself",
        field: "second",
      });
    for (const [field, types] of [
      ["firstDueFrom", "asset"],
      ["firstDueTo", "liability"],
      ["secondDueFrom", "asset"],
      ["secondDueTo", "liability"],
    ] as const) {
      const account = masters.accountByNumber.get(input[field]);
      if (!account) return fail({ code: "ACCOUNT_UNKNOWN", account: input[field], field });
      if (account.type !== types)
        return fail({
          code: "INVALID",
          what: `Account ${account.number} is no ${types} account`,
          field,
        });
      const company = masters.companyByCode.get(
        field.startsWith("first") ? input.first : input.second,
      )!;
      if (account.usedBy && !account.usedBy.includes(company.code))
        return fail({
          code: "ACCOUNT_NOT_USED",
          account: account.number,
          name: account.name,
          company: company.name,
          field,
        });
    }
    if (!masters.typeByCode.has(input.type))
      return fail({ code: "TYPE_UNKNOWN", type: input.type, field: "type" });
    const [a, b] = [
      masters.companyByCode.get(input.first)!,
      masters.companyByCode.get(input.second)!,
    ];
    const swap = a.id > b.id;
    const side = (one: "first" | "second") => (swap ? (one === "first" ? "second" : "first") : one);
    const before = masters.pair(input.first, input.second);
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into company_pair (first_id, second_id, first_due_from, first_due_to,
        second_due_from, second_due_to, type)
          values (${Math.min(a.id, b.id)}, ${Math.max(a.id, b.id)},
            ${input[`${side("first")}DueFrom`]}, ${input[`${side("first")}DueTo`]},
            ${input[`${side("second")}DueFrom`]}, ${input[`${side("second")}DueTo`]}, ${input.type})
          on conflict (first_id, second_id) do update set first_due_from = excluded.first_due_from,
            first_due_to = excluded.first_due_to, second_due_from = excluded.second_due_from,
            second_due_to = excluded.second_due_to, type = excluded.type returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "pair",
      recordId: saved!.id,
      label: `${input.first} and ${input.second}`,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

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
    if (account.type === "units" || account.control)
      return fail({
        code: "INVALID",
        what: `Account ${account.number} takes no such postings`,
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

/** What a type of journal proposes and allows. Its code, area and series stay. */
export const saveJournalType = defineUseCase({
  name: "saveJournalType",
  kind: "write",
  rights: ["setup.rules", "setup.organisation"],
  what: "change journal types",
  of: "group",
  schema: object({
    code: string()
      .required("A code is needed")
      .matches(/^[a-z][a-z0-9-]{1,29}$/, "A code has small letters, figures and dashes"),
    name: string().required("A name is needed").max(40),
    reversal: string()
      .oneOf(["swap", "negative"] as const)
      .default("swap"),
    naming: string().max(100).default(""),
    reverses: boolean().default(false),
    autoReverse: boolean().default(false),
    /** Letters before the numbers; the same letters share one series. */
    prefix: string()
      .trim()
      .uppercase()
      .matches(/^[A-Z]{0,3}$/, "A prefix has up to three letters")
      .default(""),
    books: array(string().required()).default([]),
    controls: array(
      string()
        .oneOf(["payables", "receivables", "intercompany"] as const)
        .required(),
    ).default(["payables", "receivables"]),
    approval: string()
      .oneOf(["rules", "always", "never"] as const)
      .default("rules"),
  }),
  run: async ({ tx, masters, audit }, input) => {
    const before = masters.typeByCode.get(input.code);
    if (before && !before.manual)
      return fail({
        code: "IN_USE",
        what: `Journals of type ${before.name} are made by the system; it stays as it is`,
        field: "code",
      });
    const book = input.books.find((b) => !masters.bookByCode.has(b));
    if (book) return fail({ code: "BOOK_UNKNOWN", book, field: "books" });
    const [series] = await rows<{ code: string }>(
      tx,
      sql`select code from number_series where prefix = ${input.prefix}`,
    );
    if (!series)
      await tx.execute(
        sql`insert into number_series (code, prefix) values (${`letters-${input.prefix}`}, ${input.prefix})`,
      );
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into journal_type (code, name, area, series, manual, reversal, controls, naming,
        reverses, auto_reverse, books, approval)
          values (${input.code}, ${input.name}, 'ledger',
            ${series?.code ?? `letters-${input.prefix}`}, true, ${input.reversal},
            ${JSON.stringify(input.controls)}::jsonb, ${input.naming}, ${input.reverses},
            ${input.autoReverse}, ${JSON.stringify(input.books)}::jsonb, ${input.approval})
          on conflict (code) do update set name = excluded.name, series = excluded.series,
            reversal = excluded.reversal, controls = excluded.controls, naming = excluded.naming,
            reverses = excluded.reverses, auto_reverse = excluded.auto_reverse,
            books = excluded.books, approval = excluded.approval returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "journal type",
      recordId: saved!.id,
      label: input.code,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
