import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { type Total } from "@/core/ledger";
import { periodKey, periodName } from "@/core/organisation";
import { fail, isCurrency, ok, readAmount, type Found, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { calendarOf } from "../organisation/periods";
import { stored, one, notOpen } from "./batchViews";

/** Makes a batch, or changes one that is not posted. Its name is proposed where none is given. */
export const saveBatch = defineUseCase({
  name: "saveBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "prepare batches",
  company: (i) => i.company,
  schema: object({
    id: number().integer(),
    /** Of the one that is changed. */
    version: number().integer(),
    company: string().required(),
    name: string().trim().max(100).default(""),
    period: string().required("A period is needed"),
    description: string().max(500).default(""),
    controls: array(object({ currency: string().required(), amount: string().default("") }))
      .max(20)
      .default([]),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, now, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const { periods } = await calendarOf(tx, masters, company.id);
    const period = periods.find((p) => periodKey(p) === input.period);
    if (!period)
      return fail({
        code: "PERIOD_UNKNOWN",
        period: input.period,
        company: company.name,
        field: "period",
      });
    const problems: Found[] = [];
    const controls = input.controls
      .filter((c) => c.amount.trim() !== "")
      .flatMap((c): Total[] => {
        if (!isCurrency(c.currency))
          return (
            void problems.push({
              code: "CURRENCY_UNKNOWN",
              currency: c.currency,
              field: "controls",
            }),
            []
          );
        const reading = readAmount(c.amount, c.currency);
        if (reading.ok) return [{ currency: c.currency, amount: reading.amount }];
        problems.push({ code: "AMOUNT_NOT_NUMBER", text: c.amount, field: "controls" });
        return [];
      });
    if (problems.length > 0) return fail(...problems);
    const content = JSON.stringify(stored(controls));
    if (input.id !== undefined) {
      const before = await one(context, input.id, true);
      if (!before.ok) return before;
      if (!context.may("prepare.ledger", before.value.company))
        return fail({ code: "FORBIDDEN", what: `prepare batches of ${before.value.company}` });
      if (before.value.company !== company.code)
        return fail({
          code: "INVALID",
          what: `The batch belongs to ${before.value.company}`,
          field: "company",
        });
      if (before.value.status !== "draft") return notOpen(before.value.status);
      if (before.value.version !== input.version)
        return fail({ code: "STALE", by: "Somebody else", at: "" });
      await tx.execute(
        sql`update document set title = ${input.name || before.value.name}, date = ${period.end}
          where id = ${input.id}`,
      );
      await tx.execute(
        sql`update batch set period = ${input.period}, description = ${input.description},
          controls = ${content}::jsonb, version = version + 1 where document_id = ${input.id}`,
      );
      await audit({
        action: "changed",
        kind: "batch",
        recordId: input.id,
        label: input.name || before.value.name,
        companyId: company.id,
        before: { period: before.value.period, controls: before.value.controls },
        after: input,
      });
      return ok({ id: input.id });
    }
    const [count] = await rows<{ n: number }>(
      tx,
      sql`select count(*)::int as n from document
        where kind = 'batch' and company_id = ${company.id} and date = ${period.end}`,
    );
    const name = input.name || `${periodName(period)}, batch ${count!.n + 1}`;
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into document (kind, company_id, date, amount, currency, title, search, created_by,
        created_at, status) values ('batch', ${company.id}, ${period.end},
        ${controls[0]?.amount ?? 0n}, ${company.currency}, ${name},
        ${`batch ${name} ${input.description}`.toLowerCase().slice(0, 500)}, ${person.id},
        ${now.toISOString()}, 'draft') returning id`,
    );
    await tx.execute(
      sql`insert into batch (document_id, period, description, controls)
        values (${made!.id}, ${input.period}, ${input.description}, ${content}::jsonb)`,
    );
    await audit({
      action: "added",
      kind: "batch",
      recordId: String(made!.id),
      label: name,
      companyId: company.id,
      after: input,
    });
    return ok({ id: Number(made!.id) });
  },
});

/** Puts a draft into a batch of its company, or takes it out. */
export const moveToBatch = defineUseCase({
  name: "moveToBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "move journals between batches",
  of: "checked",
  schema: object({
    journal: number().integer().required(),
    batch: number().integer().nullable().default(null),
  }),
  run: async (context, input) => {
    const [draft] = await rows<{ company: string; title: string; from: string | null }>(
      context.tx,
      sql`select c.code as company, d.title, (select b.status from document b
        where b.id = x.batch_id) as "from" from journal_draft x
        join document d on d.id = x.document_id join company c on c.id = d.company_id
        where x.document_id = ${input.journal}`,
    );
    if (!draft) return fail({ code: "NOT_FOUND", what: "such draft" });
    if (!context.may("prepare.ledger", draft.company))
      return fail({ code: "FORBIDDEN", what: `prepare journals in ${draft.company}` });
    if (draft.from !== null && draft.from !== "draft") return notOpen(draft.from);
    if (input.batch !== null) {
      const batch = await one(context, input.batch, true);
      if (!batch.ok) return batch;
      if (batch.value.status !== "draft") return notOpen(batch.value.status);
      if (batch.value.company !== draft.company)
        return fail({
          code: "INVALID",
          what: "The batch belongs to another company",
          field: "batch",
        });
    }
    await context.tx.execute(
      sql`update journal_draft set batch_id = ${input.batch} where document_id = ${input.journal}`,
    );
    await context.audit({
      action: input.batch === null ? "taken out of its batch" : "put into a batch",
      kind: "journal",
      recordId: input.journal,
      label: draft.title,
      after: { batch: input.batch },
    });
    return ok({});
  },
});

/** A batch that holds nothing yet can go; its drafts stay as they are, without a batch. */
export const deleteBatch = defineUseCase({
  name: "deleteBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "delete batches",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const batch = await one(context, input.id, true);
    if (!batch.ok) return batch;
    if (!context.may("prepare.ledger", batch.value.company))
      return fail({ code: "FORBIDDEN", what: `delete batches in ${batch.value.company}` });
    if (batch.value.status !== "draft") return fail({ code: "BATCH_POSTED" });
    await context.tx.execute(
      sql`update journal_draft set batch_id = null where batch_id = ${input.id}`,
    );
    await context.tx.execute(sql`delete from document where id = ${input.id}`);
    await context.audit({
      action: "deleted",
      kind: "batch",
      recordId: input.id,
      label: batch.value.name,
    });
    return ok({});
  },
});
