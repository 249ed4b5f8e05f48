import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { orderSchema, type OrderInput } from "@/core/purchasing";
import { decimalText, fail, minor, ok, type Found, type Result } from "@/core/shared";
import { setStatus } from "../documents";
import { arrayOf, rows } from "../db";
import { keepOne } from "../keptDocuments";
import { defineUseCase, companiesOf } from "../access";
import { ruleFor, whyOf } from "../ledger";
import { tellGoodsReceipt } from "./tellGoodsReceipt";
import {
  readStoredOrder,
  readPaperOrder,
  numberLines,
  toApprove,
  ORDERS,
  storeLines,
} from "./orderKind";

/**
 * Changes an order in force. What it said before is kept; a line that was received or invoiced
 * can't fall below that, nor go.
 */
export const changeOrder = defineUseCase({
  name: "changeOrder",
  kind: "write",
  rights: ["post.payables"],
  what: "change orders",
  company: (i) => i.content.company,
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    version: number().integer().required(),
    content: orderSchema.required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ id: number; version: number }>> => {
    const { tx, person, now } = context;
    const stored = await readStoredOrder(context, input.id);
    if (!stored || stored.kind !== "order") return fail({ code: "NOT_FOUND", what: "such order" });
    if (stored.status !== "open")
      return fail({
        code: "IN_USE",
        what: `The order is ${stored.status}; only one in force is changed`,
      });
    if (stored.version !== input.version)
      return fail({ code: "STALE", by: stored.updatedByName, at: stored.updatedAt.slice(11, 16) });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const content = input.content as OrderInput;
    if (
      content.company !== stored.company ||
      content.supplier.trim() !== stored.content.supplier.trim() ||
      (content.currency ?? "") !== (stored.content.currency ?? "")
    )
      return fail({
        code: "IN_USE",
        what: "Company, supplier and currency of an order in force stay; close it and place another one",
      });
    const reading = await readPaperOrder(context, "order", content);
    if (!reading.ok) return reading;
    const there = await rows<{ no: number; received: bigint; invoiced: bigint; price: string }>(
      tx,
      sql`select no, received, invoiced, price from order_line where order_id = ${input.id} for update`,
    );
    const problems: Found[] = [...reading.value.problems];
    const numbered = numberLines(
      content,
      reading.value.lines,
      Math.max(0, ...there.map((t) => t.no)),
    );
    const [rule] = await ruleFor(context, [toApprove(content, reading.value)]);
    const old = await rows<{ net: string | null }>(
      tx,
      sql`select figures->>'net' as net from purchase_order where document_id = ${input.id}`,
    );
    if (
      rule &&
      reading.value.net > BigInt(old[0]?.net ?? "0") &&
      !person.grants.some((g) => g.role === rule.role)
    )
      problems.push({
        code: "INVALID",
        what: `It would come to more than was approved: ${whyOf(rule)}. Ask one to change it, or order the rest apart`,
      });
    for (const t of there) {
      const now = numbered.lines.find((l) => l.no === t.no);
      const least = t.received > t.invoiced ? t.received : t.invoiced;
      if (!now && least > 0n)
        problems.push({
          code: "IN_USE",
          what: `Line ${t.no} has been received or invoiced; it stays`,
        });
      else if (now && now.quantity < least)
        problems.push({
          code: "IN_USE",
          what: `Of line ${t.no}, ${decimalText(minor(least), "KWD")} have been received or invoiced; it cannot fall below that`,
          line: now.line,
          field: "quantity",
        });
      else if (now && t.received > 0n && now.price !== t.price)
        problems.push({
          code: "IN_USE",
          what: `Line ${t.no} has been received at ${t.price}; its price stays, order the rest on a line of its own`,
          line: now.line,
          field: "price",
        });
    }
    const [first, ...others] = problems;
    if (first) return fail(first, ...others);
    await tx.execute(
      sql`insert into order_version (document_id, version, content, net, by, at, reason)
        values (${input.id}, ${stored.version}, ${JSON.stringify(stored.content)}::jsonb,
        ${BigInt(old[0]?.net ?? "0")}, ${person.id}, ${now.toISOString()}, ${input.reason})`,
    );
    const kept = await keepOne(ORDERS, context, {
      id: input.id,
      kind: "order",
      content: numbered.content,
      prepared: reading.value,
    });
    await tx.execute(
      sql`update purchase_order set figures =
        ${JSON.stringify({ net: String(reading.value.net), tax: String(reading.value.tax) })}::jsonb
        where document_id = ${input.id}`,
    );
    await tx.execute(
      sql`delete from order_line
        where order_id = ${input.id}
        and no <> all(${arrayOf(numbered.lines.map((l) => l.no))}::smallint[])`,
    );
    await storeLines(context, input.id, numbered.lines);
    await context.audit({
      action: "changed",
      kind: "order",
      recordId: input.id,
      label: stored.number ?? "",
      companyId: stored.companyId,
      before: stored.content,
      after: { reason: input.reason, content: numbered.content },
    });
    const told = await tellGoodsReceipt(context, input.id);
    if (!told.ok) return told;
    return ok({ id: input.id, version: kept.version });
  },
});

/** Closes an order: nothing more is expected of it, and it commits no more. Or opens it again. */
export const closeOrder = defineUseCase({
  name: "closeOrder",
  kind: "write",
  rights: ["post.payables"],
  what: "close orders",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    to: string()
      .oneOf(["closed", "open"] as const)
      .required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input) => {
    const stored = await readStoredOrder(context, input.id);
    if (!stored || stored.kind !== "order") return fail({ code: "NOT_FOUND", what: "such order" });
    if (!context.may("post.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `close orders of ${stored.company}` });
    if (stored.status !== (input.to === "closed" ? "open" : "closed"))
      return fail({ code: "IN_USE", what: `The order is ${stored.status}` });
    await setStatus(context.tx, [input.id], input.to);
    await context.audit({
      action: input.to === "closed" ? "closed" : "opened again",
      kind: "order",
      recordId: input.id,
      label: stored.number ?? "",
      companyId: stored.companyId,
      after: { reason: input.reason },
    });
    return ok({});
  },
});
