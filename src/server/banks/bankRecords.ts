import { sql } from "drizzle-orm";
import { object } from "yup";
import { bankRecordSchema } from "@/core/banks";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows, type Db } from "../db";
import { wantsSecondPerson } from "./agreeToAccount";

/** A bank: entered once for all accounts that the group has there. */
export interface BankRecord {
  id: number;
  name: string;
  country: string;
  nationalCode: string;
  bic: string;
  address: string;
  contact: string;
  cutOff: string;
  holidays: string[];
  /** How many accounts are kept there. */
  accounts: number;
  version: number;
}

export const COLUMNS = sql`k.id, k.name, k.country, k.national_code as "nationalCode", k.bic, k.address,
  k.contact, k.cut_off as "cutOff", to_jsonb(k.holidays) as holidays,
  (select count(*)::int from bank_account b where b.bank_id = k.id) as accounts, k.version
  from bank k`;

/** The banks of the group. */
export const listBanks = defineUseCase({
  name: "listBanks",
  kind: "read",
  rights: ["read.banks", "read.payables", "read.setup"],
  what: "see banks",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<BankRecord[]>> =>
    ok(await rows<BankRecord>(tx, sql`select ${COLUMNS} order by k.name`)),
});

/**
 * Adds or changes a bank. Its accounts keep a copy of what they need of it; those that have what the
 * bank had until now change with it, where that is wished.
 */
export const saveBank = defineUseCase({
  name: "saveBank",
  kind: "write",
  rights: ["prepare.banks", "setup.rules"],
  what: "change banks",
  of: "group",
  schema: bankRecordSchema,
  run: async (context, input): Promise<Result<{ id: number; accounts: number }>> => {
    const { tx, audit } = context;
    const before = input.id === undefined ? null : await readBank(tx, input.id);
    if (before === undefined) return fail({ code: "NOT_FOUND", what: "such bank" });
    if (before && before.version !== input.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    if (await isNamed(tx, input.name, before?.id ?? 0))
      return fail({ code: "EXISTS", what: `Bank ${input.name}`, field: "name" });
    const columns = sql`name, country, national_code, bic, address, contact, cut_off, holidays`;
    const values = sql`${input.name}, ${input.country}, ${input.nationalCode}, ${input.bic},
      ${input.address}, ${input.contact}, ${input.cutOff}, ${arrayOf(input.holidays)}::date[]`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update bank set (${columns}) = (${values}), version = version + 1
            where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into bank (${columns}) values (${values}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "bank",
      recordId: saved!.id,
      label: input.name,
      companyId: null,
      before,
      after: input,
    });
    const accounts = before && input.withAccounts ? await passOn(context, before, input) : 0;
    return ok({ id: saved!.id, accounts });
  },
});

const readBank = async (tx: Db, id: number): Promise<BankRecord | undefined> =>
  (
    await rows<BankRecord>(tx, sql`select ${COLUMNS} where k.id = ${id}::bigint for update of k`)
  )[0];

const isNamed = async (tx: Db, name: string, but: number): Promise<boolean> =>
  (
    await rows<{ id: number }>(
      tx,
      sql`select id from bank where lower(name) = lower(${name}) and id <> ${but}`,
    )
  ).length > 0;

/** What the bank had becomes what it has, at each account that still has it; each is in the history. */
async function passOn(
  { tx, audit, person }: Context,
  before: Pick<BankRecord, "id" | "name" | "bic" | "nationalCode">,
  now: { name: string; bic: string; nationalCode: string },
): Promise<number> {
  // Another routing code leads money elsewhere: that is agreed to like any change of an account.
  const asks = sql`${await wantsSecondPerson(tx)} and b.number <> ''
    and b.routing = ${before.nationalCode} and b.routing <> ${now.nationalCode}`;
  const changed = await rows<{ id: number; code: string; companyId: number; was: object }>(
    tx,
    sql`update bank_account b set version = b.version + 1,
        bank_name = case when b.bank_name = ${before.name} then ${now.name} else b.bank_name end,
        bic = case when b.bic = ${before.bic} then ${now.bic} else b.bic end,
        routing = case when b.number <> '' and b.routing = ${before.nationalCode}
          then ${now.nationalCode} else b.routing end,
        waits = case when ${asks} and b.waits <> 'opening' then 'change' else b.waits end,
        asked_by = case when ${asks} then array_append(array_remove(b.asked_by, ${person.id}::int),
          ${person.id}::int) else b.asked_by end,
        closes_on = case when ${asks} then null else b.closes_on end
      from bank_account w
      where w.id = b.id and b.bank_id = ${before.id}
        and ((b.bank_name = ${before.name} and b.bank_name <> ${now.name})
          or (b.bic = ${before.bic} and b.bic <> ${now.bic})
          or (b.number <> '' and b.routing = ${before.nationalCode}
            and b.routing <> ${now.nationalCode}))
      returning b.id, b.code, b.company_id as "companyId", jsonb_build_object('bankName',
        w.bank_name, 'bic', w.bic, 'routing', w.routing) as was`,
  );
  for (const { id, code, companyId, was } of changed)
    await audit({
      action: "changed with its bank",
      kind: "bank account",
      recordId: id,
      label: code,
      companyId,
      before: was,
      after: { bankName: now.name, bic: now.bic, routing: now.nationalCode },
    });
  return changed.length;
}

/** The bank of an account: one of the list, or a new one that joins it; null where none is said. */
export async function bankOfAccount(
  { tx, audit }: Context,
  input: {
    bankId: number | null;
    newBank: { name: string; country: string; nationalCode: string; bic: string } | null;
  },
): Promise<Result<number | null>> {
  const { newBank } = input;
  if (!newBank) {
    if (input.bankId === null) return ok(null);
    const [found] = await rows<{ id: number }>(
      tx,
      sql`select id from bank where id = ${input.bankId}::bigint`,
    );
    return found ? ok(found.id) : fail({ code: "NOT_FOUND", what: "such bank", field: "bankId" });
  }
  if (await isNamed(tx, newBank.name, 0))
    return fail({ code: "EXISTS", what: `Bank ${newBank.name}`, field: "newBank.name" });
  const [saved] = await rows<{ id: number }>(
    tx,
    sql`insert into bank (name, country, national_code, bic)
      values (${newBank.name}, ${newBank.country}, ${newBank.nationalCode}, ${newBank.bic})
      returning id`,
  );
  await audit({
    action: "added",
    kind: "bank",
    recordId: saved!.id,
    label: newBank.name,
    companyId: null,
    after: newBank,
  });
  return ok(saved!.id);
}
