import { sql } from "drizzle-orm";
import { quantityText } from "@/core/ledger";
import { readOrder } from "@/core/purchasing";
import { amountText, dateText, fail, minor, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { tablePdf } from "../files";
import { idSchema } from "./masters";
import { readPaperOrder, readStoredOrder } from "./orderKind";

/** An order as a paper for the supplier. */
async function orderPdf(
  context: Context,
  id: number,
): Promise<
  Result<{
    name: string;
    file: Uint8Array;
    email: string;
    company: string;
    companyId: number;
    supplier: string;
    number: string;
  }>
> {
  const stored = await readStoredOrder(context, id);
  if (!stored || stored.kind !== "order" || stored.number === null)
    return fail({ code: "NOT_FOUND", what: "order in force" });
  if (!context.may("read.payables", stored.company))
    return fail({ code: "FORBIDDEN", what: `see orders of ${stored.company}` });
  const reading: Result<ReturnType<typeof readOrder>> = await readPaperOrder(
    context,
    "order",
    stored.content,
  );
  if (!reading.ok) return reading;
  const { currency } = reading.value;
  const [partner] = await rows<{ email: string; name: string; street: string; city: string }>(
    context.tx,
    sql`select email, name, street, city from partner where code = ${stored.content.supplier}`,
  );
  const money = (amount: bigint) => ({ amount: minor(amount), currency });
  const file = await tablePdf({
    name: stored.number,
    title: `Order ${stored.number}`,
    subtitle: `${context.masters.companyByCode.get(stored.company)!.name} to ${partner?.name ?? ""}${partner?.street ? `, ${partner.street}, ${partner.city}` : ""} · ${dateText(reading.value.date)} · ${currency}`,
    headers: ["No.", "What", "Wanted", "Quantity", "Price", "Amount"],
    weights: [1, 7, 5, 3, 2],
    rows: [
      ...reading.value.lines.map((l) => ({
        cells: [
          String(l.no ?? ""),
          l.description,
          l.deliveries
            .map((d) =>
              l.deliveries.length > 1
                ? `${quantityText(d.quantity)} on ${dateText(d.date)}`
                : dateText(d.date),
            )
            .join(", "),
          `${quantityText(l.quantity)} ${l.unit}`.trim(),
          l.price,
          money(l.net),
        ],
      })),
      {
        cells: ["", "Net, without tax", "", "", "", money(reading.value.net)],
        strong: true,
        double: true,
      },
    ],
  });
  return ok({
    name: `${stored.number}.pdf`,
    file,
    email: partner?.email ?? "",
    company: stored.company,
    companyId: stored.companyId,
    supplier: partner?.name ?? "",
    number: stored.number,
  });
}

export const getOrderPdf = defineUseCase({
  name: "getOrderPdf",
  kind: "read",
  rights: ["read.payables"],
  what: "see orders",
  of: "checked",
  schema: idSchema,
  run: (context, input) => orderPdf(context, input.id),
});

/** Sends an order to its supplier: into the simulated mailbox. */
export const sendOrder = defineUseCase({
  name: "sendOrder",
  kind: "write",
  rights: ["prepare.payables"],
  what: "send orders",
  of: "checked",
  schema: idSchema,
  run: async (context, input): Promise<Result<{ to: string }>> => {
    const made = await orderPdf(context, input.id);
    if (!made.ok) return made;
    const { value } = made;
    if (!context.may("prepare.payables", value.company))
      return fail({ code: "FORBIDDEN", what: `send orders of ${value.company}` });
    if (value.email === "")
      return fail({
        code: "INVALID",
        what: `${value.supplier} has no e-mail address; enter one, or download the PDF`,
      });
    const { tx, person, now } = context;
    const reading = await rows<{ amount: bigint; currency: string }>(
      tx,
      sql`select amount, currency from document where id = ${input.id}`,
    );
    await tx.execute(
      sql`insert into outbox (document_id, company_id, "to", subject, body, file_name, file,
        sent_by, sent_at) values (${input.id}, ${value.companyId}, ${value.email},
        ${`Order ${value.number}`},
        ${`Please deliver as in the attached order of ${amountText(minor(reading[0]!.amount), reading[0]!.currency)} ${reading[0]!.currency}, net.`},
        ${value.name}, ${Buffer.from(value.file).toString("base64")}, ${person.id},
        ${now.toISOString()})`,
    );
    await tx.execute(
      sql`update purchase_order set sent_at = ${now.toISOString()} where document_id = ${input.id}`,
    );
    await context.audit({
      action: "sent",
      kind: "order",
      recordId: input.id,
      label: value.number,
      companyId: value.companyId,
      after: { to: value.email },
    });
    return ok({ to: value.email });
  },
});
