import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import {
  namesAlike,
  nameKey,
  partnerSchema,
  plainTaxNumber,
  taxNumberFits,
  type PartnerInput,
} from "@/core/partners";
import { bankAddressKey, NO_BANK_ADDRESS, readBankAddress, type BankAddress } from "@/core/banks";
import { termsSchema, type Terms } from "@/core/openItems";
import { fail, isCurrency, ok, textRecord, type Found, type Result } from "@/core/shared";
import { writtenAccountProblem } from "@/core/ledger";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";

const READ = ["read.payables", "read.receivables", "read.banks", "prepare.ledger"] as const;
const WRITE = ["prepare.payables", "prepare.receivables"] as const;
/** Whoever answers for payments says where they go. */
const CONFIRM = ["post.payables", "post.banks"] as const;

export interface PartnerRow extends PartnerInput {
  id: number;
  version: number;
  /** Whether a bank account of it is confirmed, waits for a second person, or is missing. */
  bank: "confirmed" | "waiting" | "none";
}
export interface PartnerBank extends BankAddress {
  id: number;
  holder: string;
  state: "waiting" | "confirmed" | "refused" | "ended";
  changedBy: string;
  changedAt: string;
  decidedBy: string | null;
  mayDecide: boolean;
}

/** What tells an account from all others: bankAddressKey, in SQL. */
const KEY = sql`coalesce(nullif(b.iban, ''), concat_ws(' ', b.country,
  coalesce(nullif(b.routing, ''), b.bic), b.number))`;

const COLUMNS = sql`p.id, p.code, p.name, p.supplier, p.customer, p.street, p.postcode, p.city,
  p.country, p.email, p.tax_number as "taxNumber", p.lei, p.currency, p.terms, p.method, p.account,
  p.dimensions, p.tax_code as "taxCode", p.shares, p.hold, p.blocked, p.version,
  coalesce((select case when bool_or(b.state = 'confirmed') then 'confirmed'
    when bool_or(b.state = 'waiting') then 'waiting' end from partner_bank b
    where b.partner_id = p.id), 'none') as bank`;

export const listPartners = defineUseCase({
  name: "listPartners",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({ role: string().oneOf(["supplier", "customer"] as const) }),
  run: async ({ tx }, input): Promise<Result<PartnerRow[]>> =>
    ok(
      await rows<PartnerRow>(
        tx,
        sql`select ${COLUMNS} from partner p
          where
          ${input.role === "supplier" ? sql`p.supplier` : input.role === "customer" ? sql`p.customer` : sql`true`}
          order by p.name, p.code`,
      ),
    ),
});

export interface PartnerView extends PartnerRow {
  banks: PartnerBank[];
  /** Others with the same tax number or bank account, or a name that is alike. */
  alike: PartnerLike[];
}
export interface PartnerLike {
  code: string;
  name: string;
  why: string;
}

async function alikeOf(
  { tx }: Context,
  given: { code: string; name: string; taxNumber: string; accounts: readonly string[] },
): Promise<PartnerLike[]> {
  const found = await rows<{
    code: string;
    name: string;
    taxNumber: string;
    accounts: string[] | null;
  }>(
    tx,
    // Trigrams narrow thousands down; what is alike is decided by the rule of core.
    sql`select p.code, p.name, p.tax_number as "taxNumber", (select jsonb_agg(${KEY})
      from partner_bank b where b.partner_id = p.id and b.state <> 'refused') as accounts
      from partner p
        where p.code <> ${given.code} and (similarity(lower(p.name), ${nameKey(given.name)}) > 0.3
          or (p.tax_number <> '' and upper(regexp_replace(p.tax_number, '[^A-Za-z0-9]', '',
          'g')) = ${plainTaxNumber(given.taxNumber)})
          or exists (select 1 from partner_bank b
            where b.partner_id = p.id and ${KEY} = any(${arrayOf(given.accounts)}::text[])))
            limit 200`,
  );
  return found.flatMap((f): PartnerLike[] => {
    const why = [
      ...(given.taxNumber && plainTaxNumber(f.taxNumber) === plainTaxNumber(given.taxNumber)
        ? ["the same tax number"]
        : []),
      ...((f.accounts ?? []).some((a) => given.accounts.includes(a))
        ? ["the same bank account"]
        : []),
      ...(namesAlike(f.name, given.name) ? ["a name that is alike"] : []),
    ];
    return why.length > 0 ? [{ code: f.code, name: f.name, why: why.join(", ") }] : [];
  });
}

/** Who is like what is being entered: shown before it is saved. */
export const partnersLike = defineUseCase({
  name: "partnersLike",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({
    code: string().default(""),
    name: string().default(""),
    taxNumber: string().default(""),
    iban: string().default(""),
  }),
  run: async (context, input): Promise<Result<PartnerLike[]>> => {
    const read = readBankAddress({ ...NO_BANK_ADDRESS, iban: input.iban });
    const key = read.ok ? bankAddressKey(read.address) : "";
    return ok(await alikeOf(context, { ...input, accounts: key ? [key] : [] }));
  },
});

export const getPartner = defineUseCase({
  name: "getPartner",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({ code: string().required().max(60) }),
  run: async (context, input): Promise<Result<PartnerView>> => {
    const { tx, person, may } = context;
    const [found] = await rows<PartnerRow>(
      tx,
      sql`select ${COLUMNS} from partner p where p.code = ${input.code}`,
    );
    if (!found) return fail({ code: "PARTNER_UNKNOWN", partner: input.code });
    const banks = await rows<Omit<PartnerBank, "mayDecide"> & { changedById: number }>(
      tx,
      sql`select b.id, b.iban, b.bic, b.number, b.routing, b.country, b.holder, b.state, c.name as "changedBy",
        b.changed_by as "changedById", b.changed_at as "changedAt", d.name as "decidedBy"
        from partner_bank b join person c on c.id = b.changed_by left
        join person d on d.id = b.decided_by where b.partner_id = ${found.id} order by b.id desc`,
    );
    const companies = await dealingWith(context, [found.code]);
    const decides = CONFIRM.some((r) =>
      companies.length === 0 ? may(r) : companies.every((c) => may(r, c)),
    );
    return ok({
      ...found,
      banks: banks.map(({ changedById, ...b }) => ({
        ...b,
        mayDecide: b.state === "waiting" && decides && changedById !== person.id,
      })),
      alike: await alikeOf(context, {
        ...found,
        accounts: banks.filter((b) => b.state !== "refused").map(bankAddressKey),
      }),
    });
  },
});

/** Companies that have dealt with partners: they owe or are owed, have ordered, or wait for it. */
async function dealingWith({ tx }: Context, codes: readonly string[]): Promise<string[]> {
  const these = sql`any(${arrayOf(codes)}::text[])`;
  const found = await rows<{ code: string }>(
    tx,
    sql`select c.code from company c where exists (select 1 from open_item i
        where i.company_id = c.id and i.partner = ${these})
      or exists (select 1 from invoice v join document d on d.id = v.document_id
        join partner p on p.id = v.partner_id where d.company_id = c.id and p.code = ${these})
      or exists (select 1 from purchase_order o join document d on d.id = o.document_id
        join partner p on p.id = o.partner_id where d.company_id = c.id and p.code = ${these})`,
  );
  return found.map((f) => f.code);
}

async function problemsOf({ tx, masters }: Context, input: PartnerInput): Promise<Found[]> {
  const problems: Found[] = [];
  if (!taxNumberFits(input.taxNumber, input.country))
    problems.push({
      code: "INVALID",
      what: `“${input.taxNumber}” has not the form of a tax number of ${input.country}`,
      field: "taxNumber",
    });
  if (input.currency && !isCurrency(input.currency))
    problems.push({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
  const fault = writtenAccountProblem(masters, input.account, { field: "account" });
  if (fault) problems.push(fault);
  for (const [dimensionCode, value] of Object.entries(input.dimensions)) {
    const dimension = masters.dimensionByCode.get(dimensionCode);
    if (!dimension)
      problems.push({ code: "DIMENSION_UNKNOWN", dimension: dimensionCode, field: "dimensions" });
    else if (value && !masters.value(dimension.id, value))
      problems.push({
        code: "VALUE_UNKNOWN",
        dimension: dimension.name.toLowerCase(),
        value,
        field: `d.${dimensionCode}`,
      });
  }
  if (input.terms) {
    const [known] = await rows(tx, sql`select 1 from payment_terms where code = ${input.terms}`);
    if (!known)
      problems.push({ code: "NOT_FOUND", what: `such terms as ${input.terms}`, field: "terms" });
  }
  if (
    input.shares &&
    (await rows(tx, sql`select 1 from share_set where code = ${input.shares}`)).length === 0
  )
    problems.push({ code: "NOT_FOUND", what: `such shares as ${input.shares}`, field: "shares" });
  if (!input.supplier && !input.customer)
    problems.push({
      code: "INVALID",
      what: "Say whether it is a supplier, a customer, or both",
      field: "supplier",
    });
  return problems;
}

export const savePartner = defineUseCase({
  name: "savePartner",
  kind: "write",
  rights: WRITE,
  what: "change suppliers and customers",
  // What others deal with is changed by whoever has the right with all of them.
  of: (context, input) => dealingWith(context, [input.code]),
  schema: partnerSchema.shape({ version: number().integer() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, audit } = context;
    const { version, ...partner } = input;
    const problems = await problemsOf(context, partner);
    if (problems.length > 0) return fail(...problems);
    const [before] = await rows<PartnerRow>(
      tx,
      sql`select ${COLUMNS} from partner p where p.code = ${input.code} for update of p`,
    );
    if (before && version === undefined)
      return fail({ code: "EXISTS", what: `Number ${input.code}`, field: "code" });
    if (before && version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const values = sql`${partner.name}, ${partner.supplier}, ${partner.customer}, ${partner.street},
      ${partner.postcode}, ${partner.city}, ${partner.country}, ${partner.email},
      ${partner.taxNumber}, ${partner.lei}, ${partner.currency || null}, ${partner.terms || null},
      ${partner.method}, ${partner.account}, ${JSON.stringify(partner.dimensions)}::jsonb,
      ${partner.taxCode}, ${partner.shares}, ${partner.hold}, ${partner.blocked}`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update partner set (name, supplier, customer, street, postcode, city, country, email,
            tax_number, lei, currency, terms, method, account, dimensions, tax_code, shares, hold,
            blocked) = (${values}), version = version + 1 where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into partner (code, name, supplier, customer, street, postcode, city, country,
            email, tax_number, lei, currency, terms, method, account, dimensions, tax_code, shares, hold,
            blocked) values (${partner.code}, ${values}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "partner",
      recordId: saved!.id,
      label: `${partner.code} ${partner.name}`,
      before,
      after: partner,
    });
    return ok({ id: saved!.id });
  },
});

/**
 * Takes partners in from a file: all of them or, with one problem anywhere, none. Without `take` it
 * only says what would happen.
 */
export const loadPartners = defineUseCase({
  name: "loadPartners",
  kind: "write",
  rights: WRITE,
  what: "load suppliers and customers",
  of: (context, input) =>
    dealingWith(context, [...new Set(input.rows.map((r) => r.code?.trim() ?? ""))]),
  schema: object({
    rows: array(textRecord()).required().max(20_000),
    role: string()
      .oneOf(["supplier", "customer"] as const)
      .default("supplier"),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const known = new Map(
      (await rows<PartnerRow>(context.tx, sql`select ${COLUMNS} from partner p`)).map((p) => [
        p.code,
        p,
      ]),
    );
    const counts = { added: 0, changed: 0, same: 0 };
    const problems: Found[] = [];
    const seen = new Set<string>();
    const wanted: (PartnerInput & { version?: number })[] = [];
    for (const [i, row] of input.rows.entries()) {
      const before = known.get(row.code?.trim() ?? "");
      const bad = (what: string, field: string) =>
        problems.push({ code: "INVALID", what: `Row ${i + 2}: ${what}`, field });
      const {
        id: _id,
        bank: _bank,
        version,
        ...old
      } = before ?? { id: 0, bank: "none" as const, version: undefined };
      let partner: PartnerInput;
      try {
        partner = partnerSchema.validateSync(
          {
            supplier: input.role === "supplier",
            customer: input.role === "customer",
            ...old,
            ...Object.fromEntries(
              PARTNER_COLUMNS.flatMap((c) =>
                row[c] === undefined
                  ? []
                  : [[c, c === "currency" || c === "terms" ? row[c] || null : row[c]]],
              ),
            ),
          },
          { stripUnknown: true },
        );
      } catch (error) {
        bad((error as Error).message, (error as { path?: string }).path ?? "code");
        continue;
      }
      if (seen.has(partner.code)) bad(`number ${partner.code} stands in the file twice`, "code");
      seen.add(partner.code);
      for (const p of await problemsOf(context, partner)) problems.push({ ...p, line: i + 2 });
      const same = before && PARTNER_COLUMNS.every((c) => (partner[c] ?? "") === (before[c] ?? ""));
      counts[same ? "same" : before ? "changed" : "added"]++;
      if (!same) wanted.push({ ...partner, ...(version === undefined ? {} : { version }) });
    }
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    if (input.take)
      for (const partner of wanted) {
        const saved = await savePartner.definition.run(context, partner);
        if (!saved.ok) return saved;
      }
    return ok(counts);
  },
});
/** Columns of partners as a file, in and out. */
export const PARTNER_COLUMNS = [
  "code",
  "name",
  "street",
  "postcode",
  "city",
  "country",
  "email",
  "taxNumber",
  "lei",
  "currency",
  "terms",
  "method",
  "account",
  "taxCode",
  "shares",
  "hold",
] as const;

/** A new bank account. It pays nothing until a second person has confirmed it. */
export const addPartnerBank = defineUseCase({
  name: "addPartnerBank",
  kind: "write",
  rights: WRITE,
  what: "change bank accounts of suppliers",
  of: (context, input) => dealingWith(context, [input.partner]),
  schema: object({
    partner: string().required(),
    iban: string().trim().max(60).default(""),
    bic: string().trim().max(20).default(""),
    /** Where there is no IBAN. */
    number: string().trim().max(40).default(""),
    routing: string().trim().max(20).default(""),
    country: string().trim().uppercase().max(2).default(""),
    holder: string().trim().max(120).default(""),
  }),
  run: async ({ tx, person, now, audit }, input): Promise<Result<{ id: number }>> => {
    const [partner] = await rows<{ id: number; name: string }>(
      tx,
      sql`select id, name from partner where code = ${input.partner} for update`,
    );
    if (!partner) return fail({ code: "PARTNER_UNKNOWN", partner: input.partner });
    const read = readBankAddress(input);
    if (!read.ok)
      return fail(...(read.problems.map((p) => ({ code: "INVALID", ...p })) as [Found]));
    const account = read.address;
    const key = bankAddressKey(account);
    if (key === "")
      return fail({
        code: "REQUIRED",
        what: "An IBAN, or the number of the account with its bank,",
        field: "iban",
      });
    const [there] = await rows(
      tx,
      sql`select 1 from partner_bank b where partner_id = ${partner.id} and ${KEY} = ${key}
        and state in ('waiting', 'confirmed')`,
    );
    if (there)
      return fail({
        code: "EXISTS",
        what: "This account",
        field: account.iban ? "iban" : "number",
      });
    const [made] = await rows<{ id: number }>(
      tx,
      sql`insert into partner_bank (partner_id, iban, bic, number, routing, country, holder,
        changed_by, changed_at) values (${partner.id}, ${account.iban}, ${account.bic},
        ${account.number}, ${account.routing}, ${account.country}, ${input.holder}, ${person.id},
        ${now.toISOString()}) returning id`,
    );
    await audit({
      action: "bank account added",
      kind: "partner",
      recordId: partner.id,
      label: `${input.partner} ${partner.name}`,
      after: { ...account, holder: input.holder },
    });
    return ok({ id: made!.id });
  },
});

/**
 * Confirms or refuses a new bank account, or ends one. Whoever entered it can't confirm it. One
 * that is confirmed takes the place of the one before.
 */
export const decidePartnerBank = defineUseCase({
  name: "decidePartnerBank",
  kind: "write",
  rights: CONFIRM,
  what: "confirm bank accounts",
  // Where money goes: the right with every company that deals with the partner.
  of: async (context, input) => {
    const [partner] = await rows<{ code: string }>(
      context.tx,
      sql`select p.code from partner_bank b join partner p on p.id = b.partner_id
        where b.id = ${input.id}`,
    );
    return partner ? dealingWith(context, [partner.code]) : [];
  },
  schema: object({
    id: number().integer().required(),
    to: string()
      .oneOf(["confirmed", "refused", "ended"] as const)
      .required(),
  }),
  run: async ({ tx, person, now, audit }, input) => {
    const [bank] = await rows<{
      partnerId: number;
      account: string;
      state: string;
      changedBy: number;
      label: string;
    }>(
      tx,
      sql`select b.partner_id as "partnerId", ${KEY} as account, b.state, b.changed_by as "changedBy",
        p.code || ' ' || p.name as label from partner_bank b join partner p on p.id = b.partner_id
        where b.id = ${input.id} for update of b`,
    );
    if (!bank) return fail({ code: "NOT_FOUND", what: "such bank account" });
    if (input.to !== "ended" && bank.state !== "waiting")
      return fail({ code: "RUN_STATE", state: bank.state });
    const [own] = await rows(
      tx,
      sql`select 1 from partner_bank where partner_id = ${bank.partnerId}
        and changed_by = ${person.id} and id > coalesce((select max(id) from partner_bank
          where partner_id = ${bank.partnerId} and state = 'confirmed'), 0)`,
    );
    if (input.to === "confirmed" && (own !== undefined || bank.changedBy === person.id))
      return fail({
        code: "FORBIDDEN",
        what: "confirm a bank account that you entered or changed; a second person has to",
      });
    if (input.to === "confirmed")
      await tx.execute(
        sql`update partner_bank set state = 'ended', decided_by = ${person.id},
          decided_at = ${now.toISOString()}
          where partner_id = ${bank.partnerId} and state = 'confirmed'`,
      );
    await tx.execute(
      sql`update partner_bank set state = ${input.to}, decided_by = ${person.id},
        decided_at = ${now.toISOString()} where id = ${input.id}`,
    );
    await audit({
      action: `bank account ${input.to}`,
      kind: "partner",
      recordId: bank.partnerId,
      label: bank.label,
      after: { account: bank.account },
    });
    return ok({});
  },
});

export interface TermsRow {
  code: string;
  name: string;
  terms: Terms;
}
export const listTerms = defineUseCase({
  name: "listTerms",
  kind: "read",
  rights: [...READ, "read.setup"],
  what: "see terms of payment",
  of: "shared",
  schema: object(),
  run: async ({ tx }) =>
    ok(await rows<TermsRow>(tx, sql`select code, name, terms from payment_terms order by code`)),
});

export const saveTerms = defineUseCase({
  name: "saveTerms",
  kind: "write",
  rights: ["setup.rules", "prepare.payables", "prepare.receivables"],
  what: "change terms of payment",
  of: "group",
  schema: object({
    code: string()
      .trim()
      .required("A code is needed")
      .matches(/^[A-Za-z0-9-]{1,20}$/, "A code has letters, figures and dashes"),
    name: string().trim().required("A name is needed").max(80),
    terms: termsSchema.required(),
  }),
  run: async ({ tx, audit }, input) => {
    const [before] = await rows<TermsRow>(
      tx,
      sql`select code, name, terms from payment_terms where code = ${input.code}`,
    );
    await tx.execute(
      sql`insert into payment_terms (code, name, terms) values (${input.code}, ${input.name},
        ${JSON.stringify(input.terms)}::jsonb)
        on conflict (code) do update set name = excluded.name, terms = excluded.terms`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "terms",
      recordId: input.code,
      label: input.name,
      before,
      after: input,
    });
    return ok({});
  },
});
