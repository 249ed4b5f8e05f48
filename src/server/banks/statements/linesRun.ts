import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { RunItem } from "@/core/runs";
import { dateText, fail, ok, type Minor, type Result } from "@/core/shared";
import type { JournalDraft } from "@/core/ledger";
import type { Context } from "../../access";
import { rows } from "../../db";
import { releaseItems } from "../../openItems";
import { defineRunKind, upToDay, type Proposed } from "../../runs";
import { matchOpenLines } from "./matchOpenLines";
import { reconciledUntil } from "./reconciledUntil";
import { planner, type DecidedLine, type Posted } from "./planLines";
import { linesOfRun, linesPosted, stateOfPayments } from "./postedLines";

const schema = object({
  company: string().required(),
  /** One bank account, or all of the company. */
  bank: string().trim().default(""),
  upTo: string().required("Say up to which day"),
  /** All that is decided, or only what the rules found beyond doubt. */
  only: string()
    .oneOf(["decided", "certain"] as const)
    .default("decided"),
});

const keyOf = (id: bigint | number): string => `line|${id}`;

/**
 * Posts what is decided about the lines of bank statements: each a journal of its own, on the day
 * it was booked.
 */
export const bankLinesRun = defineRunKind({
  id: "bank-lines",
  right: "post.banks",
  approved: "by rules",
  schema,
  async propose(context, params, overrides): Promise<Result<Proposed>> {
    const place = await upToDay(context, params);
    if (!place.ok) return place;
    const { company, yearId } = place.value;
    const lines = await decidedLines(context, company.id, params);
    if (lines.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `line of a statement of ${company.name} up to ${dateText(params.upTo)} that is decided`,
        field: "upTo",
      });
    const plan = await planner(context, company, lines);
    if (!plan.ok) return plan;
    const items: RunItem[] = [];
    const drafts: JournalDraft[] = [];
    const detail: Posted[] = [];
    for (const l of lines) {
      const planned = plan.value.of(l);
      const item = runItem(l, plan.value.own(l));
      if ("leftOut" in planned) {
        items.push({ ...item, leftOut: planned.leftOut });
        continue;
      }
      const dropped = overrides.dropped.includes(keyOf(l.id));
      items.push({ ...item, droppable: true, ...(dropped ? {} : { drafts: [drafts.length] }) });
      if (dropped) continue;
      drafts.push(planned.draft);
      detail.push(planned.posted);
      plan.value.take(planned.posted);
    }
    return ok({
      company: company.code,
      yearId,
      date: params.upTo,
      title: `Bank lines up to ${dateText(params.upTo)}, ${params.bank || company.name}`,
      items,
      drafts,
      warnings: [],
      figures: [
        { label: "Money in", amount: sumOf(items, 1n) },
        { label: "Money out", amount: sumOf(items, -1n) },
      ],
      detail,
    });
  },
  posted: (context, run) =>
    linesPosted(context, run.id, run.proposal.detail as Posted[], run.journals),
  async reversing(context, { id, dayOf }) {
    const [held] = await rows<{ bank: string; until: string }>(
      context.tx,
      sql`select b.code as bank, ${reconciledUntil(sql`b.id`)} as until from statement_line l
        join bank_account b on b.id = l.bank_account_id
        where l.run_id = ${id} and l.booked <= ${reconciledUntil(sql`b.id`)} limit 1`,
    );
    if (held)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `${held.bank} is reconciled up to ${dateText(held.until)}; reopen the reconciliation first`,
      });
    const posted = await linesOfRun(context, id);
    await releaseItems(
      context,
      posted.map((p) => ({ id: Number(p.journalId), date: dayOf(Number(p.journalId)) })),
    );
    return ok({});
  },
  async reversed(context, { id }) {
    const posted = await linesOfRun(context, id);
    await stateOfPayments(
      context,
      posted.map((p) => Number(p.journalId)),
    );
    // What was decided stays decided, by whom it was: it is posted again, or chosen anew. The rules
    // look again at the rest, for what came back stays undone.
    const lines = await rows<{ bank: number }>(
      context.tx,
      sql`update statement_line set
        state = case when decided_by is null then 'certain' else 'chosen' end, journal_id = null,
        run_id = null, version = version + 1
        where run_id = ${id} returning bank_account_id as bank`,
    );
    await matchOpenLines(context, [...new Set(lines.map((l) => l.bank))]);
  },
});

const sumOf = (items: readonly RunItem[], sign: bigint): bigint =>
  items.filter((i) => i.drafts && i.amount * sign > 0n).reduce((t, i) => t + i.amount, 0n);

/** The lines that are decided, held until the run is kept or posted: nobody decides meanwhile. */
async function decidedLines(
  { tx }: Context,
  companyId: number,
  params: { bank: string; upTo: string; only: "decided" | "certain" },
): Promise<DecidedLine[]> {
  // Locked by their id, as whoever matches them locks them.
  const found = await rows<DecidedLine>(
    tx,
    sql`select l.id, b.id as "bankId", b.code as bank, b.account, b.dimensions as usual,
        s.number as statement,
        s.currency, l.booked, l.amount, l.party_name as name, l.text,
        l.return_reason as "returnReason", l.outcome,
        l.candidates -> 0 -> 'reasons' as reasons, p.name as by
      from statement_line l join bank_statement s on s.id = l.statement_id
        join bank_account b on b.id = l.bank_account_id left join person p on p.id = l.decided_by
      where l.company_id = ${companyId}
        and (l.state = 'certain' or (l.state = 'chosen' and ${params.only} = 'decided'))
        and l.booked <= ${params.upTo} and ${params.bank} in ('', b.code)
      order by l.id for update of l`,
  );
  return found.sort((x, y) => (x.booked < y.booked ? -1 : x.booked > y.booked ? 1 : 0));
}

function runItem(l: DecidedLine, own: Minor): RunItem {
  return {
    key: keyOf(l.id),
    label: l.name || l.text.slice(0, 80) || "Bank movement",
    group: `${l.bank}, statement ${l.statement}`,
    amount: own,
    why: l.by ? `chosen by ${l.by}` : (l.reasons?.[0]?.says ?? "certain"),
    explanation: {
      title: `${dateText(l.booked)}, ${l.name || l.text.slice(0, 60)}`,
      steps: [
        { label: "The bank says", text: l.text || "nothing" },
        ...(l.reasons ?? []).map((r) => ({
          label: r.weight < 0 ? "Against it" : "For it",
          text: r.says,
        })),
        { label: "Amount of the line", amount: own, total: true },
      ],
    },
  };
}
