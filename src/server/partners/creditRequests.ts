import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { CREDIT_OUTCOMES, creditRequestSchema, type CreditOutcome } from "@/core/partners";
import { fail, isCurrency, minor, ok, readAmount, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { dealingWith } from "./dealing";

/** A credit limit that was asked for. */
export interface CreditRequest {
  id: number;
  partner: string;
  name: string;
  /** What is asked for, and what holds now; null for no limit. */
  amount: Minor | null;
  currency: string;
  now: Minor | null;
  nowCurrency: string;
  reason: string;
  askedBy: string;
  askedAt: string;
  outcome: CreditOutcome | null;
  note: string;
  decidedBy: string | null;
  decidedAt: string | null;
  /** Whether the person who looks may decide it. */
  mayDecide: boolean;
}

/** Who may say that a customer may owe more: whoever sets the rules of the whole group. */
const DECIDES = "setup.rules";

/** The limits that were asked for: those that wait first, then the newest. */
export const listCreditRequests = defineUseCase({
  name: "listCreditRequests",
  kind: "read",
  rights: ["read.receivables"],
  what: "see credit limits",
  of: "shared",
  schema: object(),
  run: async ({ tx, person, mayEverywhere }): Promise<Result<CreditRequest[]>> => {
    const found = await rows<
      Omit<CreditRequest, "amount" | "now" | "mayDecide"> & {
        amount: bigint | null;
        now: bigint | null;
        own: boolean;
      }
    >(
      tx,
      sql`select q.id, p.code as partner, p.name, q.amount, q.currency, p.credit_limit as now,
          p.credit_currency as "nowCurrency", q.reason, a.name as "askedBy", q.asked_at as "askedAt",
          q.outcome, q.note, b.name as "decidedBy", q.decided_at as "decidedAt",
          q.asked_by = ${person.id} as own
        from credit_request q join partner p on p.id = q.partner_id
          join person a on a.id = q.asked_by left join person b on b.id = q.decided_by
        order by q.outcome is not null, q.id desc limit 500`,
    );
    const asUnits = (n: bigint | null): Minor | null => (n === null ? null : minor(n));
    return ok(
      found.map(({ own, ...q }) => ({
        ...q,
        amount: asUnits(q.amount),
        now: asUnits(q.now),
        mayDecide: q.outcome === null && !own && mayEverywhere(DECIDES),
      })),
    );
  },
});

/** Asks for a credit limit; a second person decides it. */
export const askForCreditLimit = defineUseCase({
  name: "askForCreditLimit",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "ask for credit limits",
  of: (context, input) => dealingWith(context, [input.partner]),
  schema: creditRequestSchema,
  run: async ({ tx, person, now, audit }, input): Promise<Result<{ id: number }>> => {
    const [partner] = await rows<{ id: number; name: string; waits: boolean }>(
      tx,
      sql`select p.id, p.name, exists (select 1 from credit_request q
          where q.partner_id = p.id and q.outcome is null) as waits
        from partner p where p.code = ${input.partner} and p.customer for update of p`,
    );
    if (!partner)
      return fail({ code: "PARTNER_UNKNOWN", partner: input.partner, field: "partner" });
    if (!isCurrency(input.currency))
      return fail({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
    const read = input.limit === "" ? null : readAmount(input.limit, input.currency);
    if (read && (!read.ok || read.amount < 0n))
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.limit, field: "limit" });
    if (partner.waits)
      return fail({
        code: "INVALID",
        what: `A limit of ${partner.name} is asked for already; that is decided first`,
        field: "partner",
      });
    const [made] = await rows<{ id: number }>(
      tx,
      sql`insert into credit_request (partner_id, amount, currency, reason, asked_by, asked_at)
        values (${partner.id}, ${read?.ok ? read.amount : null}::bigint, ${input.currency},
          ${input.reason}, ${person.id}, ${now.toISOString()}) returning id`,
    );
    await audit({
      action: "credit limit asked for",
      kind: "partner",
      recordId: partner.id,
      label: `${input.partner} ${partner.name}`,
      after: input,
    });
    return ok(made!);
  },
});

/** Grants or refuses a limit that somebody else has asked for. */
export const decideCreditRequest = defineUseCase({
  name: "decideCreditRequest",
  kind: "write",
  rights: [DECIDES],
  what: "decide credit limits",
  of: "group",
  schema: object({
    id: number().integer().required(),
    outcome: string().oneOf(CREDIT_OUTCOMES).required(),
    note: string().trim().max(500).default(""),
  }),
  run: async ({ tx, person, now, audit }, input): Promise<Result<object>> => {
    const [request] = await rows<{
      partnerId: number;
      label: string;
      amount: bigint | null;
      currency: string;
      askedBy: number;
      outcome: CreditOutcome | null;
      before: bigint | null;
    }>(
      tx,
      sql`select q.partner_id as "partnerId", p.code || ' ' || p.name as label, q.amount, q.currency,
          q.asked_by as "askedBy", q.outcome, p.credit_limit as before
        from credit_request q join partner p on p.id = q.partner_id where q.id = ${input.id}
        for update`,
    );
    if (!request) return fail({ code: "NOT_FOUND", what: "such request" });
    if (request.outcome !== null)
      return fail({ code: "IN_USE", what: `It was ${request.outcome} already` });
    if (request.askedBy === person.id)
      return fail({
        code: "FORBIDDEN",
        what: "decide a limit that you asked for; a second person has to",
      });
    if (input.outcome === "refused" && input.note === "")
      return fail({ code: "REQUIRED", what: "Why it is refused", field: "note" });
    await tx.execute(
      sql`update credit_request set outcome = ${input.outcome}, note = ${input.note},
          decided_by = ${person.id}, decided_at = ${now.toISOString()} where id = ${input.id}`,
    );
    if (input.outcome === "granted")
      await tx.execute(
        sql`update partner set credit_limit = ${request.amount}::bigint,
            credit_currency = ${request.currency}, version = version + 1
          where id = ${request.partnerId}`,
      );
    await audit({
      action: `credit limit ${input.outcome}`,
      kind: "partner",
      recordId: request.partnerId,
      label: request.label,
      before: { creditLimit: request.before },
      after: { creditLimit: request.amount, currency: request.currency, note: input.note },
    });
    return ok({});
  },
});
