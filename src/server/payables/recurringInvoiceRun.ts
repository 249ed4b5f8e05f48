import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { cutToTotal, nextPart, recurringContent } from "@/core/payables";
import { conversionOn, convertBy } from "@/core/rates";
import type { RunItem } from "@/core/runs";
import { amountText, dateText, describeFound, fail, minor, ok, rhythmText } from "@/core/shared";
import { rows } from "../db";
import { documentLinks } from "../documents";
import { ratesFor } from "../rates";
import { defineRunKind } from "../runs";
import { readPapers } from "./checkInvoice";
import { keepAll } from "../keptDocuments";
import { INVOICES } from "./keepInvoices";
import { dueOf, runPlaceUpTo } from "../recurring";
import {
  agreedOf,
  leftOf,
  leftToMake,
  readTemplates,
  RECURRING_INVOICES,
} from "./recurringInvoices";

export const recurringInvoiceRun = defineRunKind({
  id: "recurring-invoice",
  right: "post.payables",
  schema: object({
    company: string().required(),
    upTo: string().required("The day is missing"),
    only: array(number().integer().required()).default([]),
  }),
  async propose(context, params, overrides, run = 0) {
    const { tx, masters } = context;
    const place = await runPlaceUpTo(context, params);
    if (!place.ok) return place;
    const { company, upTo, yearId } = place.value;
    const templates = (
      await readTemplates(context, sql`d.company_id = ${company.id}`, { run })
    ).filter((s) => params.only.length === 0 || params.only.includes(s.id));
    const items: RunItem[] = [];
    const making: Making[] = [];
    const papers = templates.map((s) => ({
      s,
      due: dueOf(RECURRING_INVOICES, s, upTo).map(({ date, part: supplier, key }) => ({
        date,
        supplier,
        itemKey: key,
        content: recurringContent(s.written, supplier, date),
      })),
    }));
    const contents = papers.flatMap((p) => p.due.map((d) => d.content));
    const readings = new Map(
      (await readPapers(context, contents)).map((reading, i) => [contents[i]!, reading]),
    );
    const rates = await ratesFor(
      tx,
      masters,
      papers.flatMap((p) =>
        p.due.map((d) => ({
          companies: [company.code],
          currency: readings.get(d.content)!.currency,
          date: d.date,
        })),
      ),
    );
    for (const { s, due } of papers) {
      const agreed = agreedOf(s);
      const rest = new Map(
        s.content.suppliers.map((code) => [code, agreed === null ? null : leftOf(s, agreed, code)]),
      );
      // Dates come in their order, so each that has gone by is one less for its supplier.
      const toMake = s.content.spread ? leftToMake(s) : new Map<string, number>();
      const parts = due.map(({ date, supplier, itemKey, content: whole }) => {
        const left = rest.get(supplier) ?? null;
        const full = readings.get(whole)!;
        const beyond = left !== null && left <= 0n;
        const remaining = toMake.get(supplier) ?? 1;
        toMake.set(supplier, remaining - 1);
        const part =
          left === null || beyond
            ? null
            : s.content.spread
              ? nextPart(left, remaining)
              : full.gross > left
                ? left
                : null;
        const content =
          part === null ? whole : cutToTotal(whole, full.lines, full.gross, part, full.currency);
        const made = !beyond && full.problems.length === 0 && !overrides.dropped.includes(itemKey);
        if (made && left !== null) rest.set(supplier, minor(left - (part ?? full.gross)));
        return { date, itemKey, supplier, left, full, beyond, part, content };
      });
      const cut = parts.filter((p) => p.part !== null);
      const cutReadings = new Map(
        (
          await readPapers(
            context,
            cut.map((p) => p.content),
          )
        ).map((reading, i) => [cut[i]!, reading]),
      );
      for (const p of parts) {
        const { date, itemKey, supplier, left, beyond, part, content } = p;
        const reading = cutReadings.get(p) ?? p.full;
        const wrong = reading.problems.map(describeFound).join(" ");
        const rate = conversionOn(rates, "spot", reading.currency, company.currency, date);
        const leftOut =
          wrong !== "" ? wrong : beyond ? "nothing is left of what was agreed" : undefined;
        items.push({
          key: itemKey,
          group: s.name,
          label: `${content.number}, ${supplier}`,
          amount: rate
            ? convertBy(reading.net, reading.currency, company.currency, rate)
            : minor(0n),
          why: `${rhythmText(s.rhythm)}, ${dateText(date)}${part === null ? "" : part === left ? "; the last of what was agreed" : "; a part of what was agreed"}`,
          droppable: true,
          ...(leftOut === undefined ? {} : { leftOut }),
          explanation: {
            title: content.number,
            steps: [
              {
                label: "Net",
                text: `${amountText(reading.net, reading.currency)} ${reading.currency}`,
              },
              { label: "Tax", text: amountText(reading.tax, reading.currency) },
              {
                label: "Comes to",
                text: `${amountText(reading.gross, reading.currency)} ${reading.currency}`,
                total: true,
              },
              ...(left === null
                ? []
                : [
                    {
                      label: "Left of what was agreed, before it",
                      text: amountText(left, reading.currency),
                    },
                  ]),
            ],
          },
        });
        if (leftOut !== undefined || overrides.dropped.includes(itemKey)) continue;
        making.push({ template: s.id, content });
      }
    }
    if (items.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `recurring invoice of ${company.name} that is due by ${dateText(upTo)}`,
        field: "upTo",
      });
    return ok({
      company: company.code,
      yearId,
      date: upTo,
      title: `Recurring invoices by ${dateText(upTo)}, ${company.name}`,
      items,
      drafts: [],
      makes: `Make ${making.length} ${making.length === 1 ? "draft" : "drafts"}`,
      detail: making,
      warnings: ["They wait as drafts for the paper and are posted like any other invoice."],
      figures: [
        {
          label: "Net together",
          amount: minor(
            items
              .filter((i) => i.leftOut === undefined && !overrides.dropped.includes(i.key))
              .reduce((t, i) => t + i.amount, 0n),
          ),
        },
      ],
    });
  },
  async posted(context, { id, proposal }) {
    const making = proposal.detail as Making[];
    const readings = await readPapers(
      context,
      making.map((m) => m.content),
    );
    const kept = await keepAll(
      INVOICES,
      context,
      making.map((m, i) => ({ content: m.content, prepared: { reading: readings[i]! } })),
    );
    await documentLinks(
      context.tx,
      "made",
      making.flatMap((m, i): [number, number][] => [
        [m.template, kept[i]!.id],
        [id, kept[i]!.id],
      ]),
    );
    return ok({});
  },
  async reversing({ tx }, { id }) {
    const [standing] = await rows<{ number: string; status: string }>(
      tx,
      sql`select coalesce(d.number, d.title) as number, d.status from document_link l
        join document d on d.id = l.to_id where l.from_id = ${id} and l.kind = 'made'
        and d.kind = 'invoice' and d.status not in ('draft', 'held', 'reversed') limit 1`,
    );
    if (standing)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `${standing.number} is ${standing.status}; cancel it first`,
      });
    await tx.execute(
      sql`delete from document where id in (select l.to_id from document_link l
        join document d on d.id = l.to_id where l.from_id = ${id} and l.kind = 'made'
        and d.kind = 'invoice' and d.status in ('draft', 'held'))`,
    );
    return ok({});
  },
});

interface Making {
  template: number;
  content: ReturnType<typeof recurringContent>;
}
