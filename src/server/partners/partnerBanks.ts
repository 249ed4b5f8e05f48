import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { bankAddressKey, readBankAddress } from "@/core/banks";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { dealingWith } from "./dealing";
import { KEY } from "./partnerRow";
import { CONFIRM, WRITE } from "./rights";

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
