import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { agreementSale, type SaleInput } from "@/core/receivables";
import { conversionOn, convertBy } from "@/core/rates";
import type { Explanation, RunItem } from "@/core/runs";
import {
  amountText,
  dateText,
  describeFound,
  fail,
  minor,
  ok,
  rhythmText,
  type Minor,
} from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";
import { documentLinks } from "../../documents";
import { keepAll } from "../../keptDocuments";
import { ruleFor, whyOf } from "../../ledger";
import { ratesFor } from "../../rates";
import { dueOf, runPlaceUpTo } from "../../recurring";
import { defineRunKind } from "../../runs";
import { paperToApprove } from "../../trade";
import { prepareSales, type ReadySale } from "../checkSale";
import { SALES } from "../keepSales";
import { postSales } from "../postSales";
import { takeBackSales } from "../takeBackSales";
import { AGREEMENTS, moveOf, readAgreements, type KeptAgreement } from "./readAgreements";

interface Making {
  agreement: number;
  content: SaleInput;
}

/** What an agreement comes to on a date. */
interface Due {
  agreement: KeptAgreement;
  date: string;
  key: string;
  /** Why the price is another one than was agreed; "" where it is not. */
  indexed: string;
  content: SaleInput;
}

/**
 * Makes the invoices of agreements that are due by a day: numbered and posted; what a rule wants a
 * second person for is made as a draft.
 */
export const agreementRun = defineRunKind({
  id: "agreement",
  right: "post.receivables",
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
    const agreements = (
      await readAgreements(context, sql`d.company_id = ${company.id}`, { run })
    ).filter((a) => params.only.length === 0 || params.only.includes(a.id));
    const due = await dueBy(context, agreements, upTo, company.currency);
    const read = await readDue(context, due);
    if (!read.ok) return read;
    const rates = await ratesFor(
      tx,
      masters,
      due.map((d, i) => ({
        companies: [company.code],
        currency: read.value[i]!.ready.reading.currency,
        date: d.date,
      })),
    );
    const items = due.map((d, i): RunItem => {
      const { ready, waits } = read.value[i]!;
      const { net, currency } = ready.reading;
      const rate = conversionOn(rates, "spot", currency, company.currency, d.date);
      const wrong = ready.problems.map(describeFound).join(" ");
      return {
        key: d.key,
        group: d.agreement.name,
        label: `${d.content.description}, ${ready.figures.buyer?.name ?? d.content.customer}`,
        amount: rate ? convertBy(net, currency, company.currency, rate) : minor(0n),
        why: [
          `${rhythmText(d.agreement.rhythm)}, ${dateText(d.date)}`,
          d.indexed === "" ? "" : `prices ${d.indexed}`,
          waits === "" ? "" : `made as a draft: ${waits}`,
        ]
          .filter(Boolean)
          .join("; "),
        droppable: true,
        ...(wrong === "" ? {} : { leftOut: wrong }),
        drafts: [],
        explanation: explained(d, ready),
      };
    });
    if (items.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `agreement of ${company.name} that is to be invoiced by ${dateText(upTo)}`,
        field: "upTo",
      });
    const isMade = (i: RunItem): boolean =>
      i.leftOut === undefined && !overrides.dropped.includes(i.key);
    const made = items.filter(isMade).length;
    return ok({
      company: company.code,
      yearId,
      date: upTo,
      title: `Invoices of agreements by ${dateText(upTo)}, ${company.name}`.slice(0, 200),
      items,
      drafts: [],
      detail: due.flatMap((d, i): Making[] =>
        isMade(items[i]!) ? [{ agreement: d.agreement.id, content: d.content }] : [],
      ),
      ...(made === 0 ? {} : { makes: `Post ${made} ${made === 1 ? "invoice" : "invoices"}` }),
      warnings: [],
      figures: [
        {
          label: "Net together",
          amount: minor(items.filter(isMade).reduce((t, i) => t + i.amount, 0n)),
        },
      ],
    });
  },
  async posted(context, { id, proposal }) {
    const making = proposal.detail as Making[];
    const contents = making.map((m) => m.content);
    const read = await readDue(
      context,
      contents.map((content) => ({ content })),
    );
    if (!read.ok) return read;
    const kept = await keepAll(
      SALES,
      context,
      contents.map((content, i) => ({ content, prepared: read.value[i]!.ready })),
    );
    const posted = await postSales(
      context,
      contents.flatMap((content, i) =>
        read.value[i]!.waits === "" ? [{ id: kept[i]!.id, content }] : [],
      ),
      { approved: false },
    );
    if (!posted.ok) return posted;
    await documentLinks(
      context.tx,
      "made",
      making.flatMap((m, i): [number, number][] => [
        [m.agreement, kept[i]!.id],
        [id, kept[i]!.id],
      ]),
    );
    return ok({});
  },
  async reversing(context, { id }) {
    const made = await rows<{ id: bigint; status: string; number: string }>(
      context.tx,
      sql`select d.id, d.status, coalesce(d.number, d.title) as number from document_link l
        join document d on d.id = l.to_id and d.kind = 'sale'
        where l.from_id = ${id} and l.kind = 'made' order by d.id`,
    );
    const waits = made.find((m) => m.status === "waiting");
    if (waits)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `${waits.number} waits for approval; withdraw it first`,
      });
    const back = await takeBackSales(
      context,
      made.filter((m) => m.status === "posted").map((m) => Number(m.id)),
    );
    if (!back.ok) return back;
    await context.tx.execute(
      sql`delete from document where id in (select l.to_id from document_link l
        join document d on d.id = l.to_id where l.from_id = ${id} and l.kind = 'made'
        and d.kind = 'sale' and d.status = 'draft')`,
    );
    return ok({});
  },
});

/** How an invoice came to its amount. */
function explained(due: Due, { reading }: ReadySale): Explanation {
  const money = (amount: Minor) => `${amountText(amount, reading.currency)} ${reading.currency}`;
  return {
    title: due.content.description,
    steps: [
      ...(due.indexed === "" ? [] : [{ label: "Prices", text: due.indexed }]),
      ...due.content.lines.map((l, i) => ({
        label: l.description || `Line ${i + 1}`,
        text: l.price === "" ? l.net : `${l.quantity} × ${l.price}`,
      })),
      { label: "Net", text: money(reading.net) },
      { label: "Tax", text: money(reading.tax) },
      { label: "Comes to", text: money(reading.gross), total: true },
    ],
  };
}

/** Every date of agreements that is due by a day, with the invoice that it becomes. */
async function dueBy(
  context: Context,
  agreements: readonly KeptAgreement[],
  upTo: string,
  functional: string,
): Promise<Due[]> {
  const move = await moveOf(context);
  return agreements.flatMap((agreement) =>
    dueOf(AGREEMENTS, agreement, upTo).map(({ date, key }): Due => {
      const { written } = agreement;
      const moved = move(written, date);
      const currency = written.sale.currency || functional;
      return {
        agreement,
        date,
        key,
        indexed: moved?.follows
          ? `follow ${written.clause.index}: ${moved.value}, ${moved.percent} % on what was agreed`
          : "",
        content: agreementSale(written, date, moved, currency),
      };
    }),
  );
}

/**
 * Invoices read against the books, each with why it has to wait for a second person; "" where not.
 */
async function readDue(context: Context, due: readonly Pick<Due, "content">[]) {
  const prepared = await prepareSales(
    context,
    due.map((d) => ({ input: d.content })),
  );
  if (!prepared.ok) return prepared;
  const rules = await ruleFor(
    context,
    prepared.value.map((r) => paperToApprove(r.reading)),
  );
  return ok(
    prepared.value.map((ready, i): { ready: ReadySale; waits: string } => {
      const rule = rules[i];
      return { ready, waits: rule ? whyOf(rule) : "" };
    }),
  );
}
