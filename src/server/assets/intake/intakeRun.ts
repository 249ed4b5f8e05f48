import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { INTO_NAMES, ruleText } from "@/core/assets";
import type { RunItem, Step } from "@/core/runs";
import { dateText, dayField, fail, minor, ok, type CalendarDate } from "@/core/shared";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import { defineRunKind, releaseItems, upToDay } from "../../runs";
import { makeAssets, type AssetToMake } from "../register/makeAssets";
import { assetsNamed, completeGroups, rulesFor, targetOf, type Group } from "./intakeGroups";
import { draftsOf } from "./intakeJournal";
import type { IntakeLine } from "./readIntake";

const schema = object({
  company: string().required(),
  /** The day on which it is booked. */
  date: dayField().required("The day is missing"),
  /** Only these lines; all that are complete where none is said. */
  lines: array().of(number().integer().required()).default([]),
});

/** What posting needs of a group. */
interface Taken {
  lead: number;
  lines: { id: number; amount: string; account: string; book: number; moves: boolean }[];
  /** A new asset, or where it goes. */
  make?: Omit<AssetToMake, "companyId">;
  asset?: string;
  costAccount: string;
  countsFrom: CalendarDate | null;
  movement: "addition" | "correction";
}

/**
 * Takes lines of the intake in: each becomes an asset with those that were merged into it, goes to
 * one that there is, or is expensed. One journal clears the clearing accounts; what stands on the
 * account of its class already needs none.
 */
export const intakeRun = defineRunKind({
  id: "asset-intake",
  right: "post.assets",
  approved: "by rules",
  schema,
  async propose(context, params, overrides, run) {
    const place = await upToDay(context, { company: params.company, upTo: params.date });
    if (!place.ok) return place;
    const { company, yearId } = place.value;
    const groups = await completeGroups(context, company.id, params, run);
    if (groups.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `line in the intake of ${company.name} that is complete by ${dateText(params.date)}`,
      });
    const dropped = new Set(overrides.dropped);
    const taken = groups.filter((g) => !dropped.has(keyOf(g.lead)));
    const drafts = draftsOf(context.masters, company.code, params.date, taken);
    const total = minor(taken.reduce((t, g) => t + g.amount, 0n));
    return ok({
      company: company.code,
      yearId,
      date: params.date,
      title: `Assets taken in on ${dateText(params.date)}, ${company.name}`.slice(0, 200),
      items: groups.map((g) => itemOf(g, company.currency, dropped, drafts.length > 0)),
      drafts,
      warnings: [],
      ...(drafts.length === 0 && taken.length > 0
        ? { makes: `Take in ${taken.length === 1 ? "1 asset" : `${taken.length} lines`}` }
        : {}),
      figures: [
        { label: "Taken in", amount: total },
        {
          label: "Of it expensed",
          amount: minor(
            taken.reduce((t, g) => (g.lead.content.into === "expense" ? t + g.amount : t), 0n),
          ),
        },
      ],
      detail: taken.map((g) => takenOf(g, company.currency)),
    });
  },
  async posted(context, { id, params, proposal }) {
    const { tx, masters, person, now } = context;
    const groups = proposal.detail as Taken[];
    if (groups.length === 0)
      return fail({ code: "RUN_STANDS_IN_WAY", what: "Nothing is left in it to take in" });
    const companyId = masters.companyByCode.get(params.company)!.id;
    const made = await makeAssets(
      context,
      groups.flatMap((g) => (g.make ? [{ ...g.make, companyId }] : [])),
      { run: id, date: params.date },
    );
    const existing = await assetsNamed(
      tx,
      companyId,
      groups.flatMap((g) => (g.asset ? [g.asset] : [])),
    );
    let next = 0;
    const moves = groups.flatMap((g) => {
      const asset = g.make ? made[next++]! : g.asset ? existing.get(g.asset)!.id : null;
      return g.lines.map((l) => ({ ...l, group: g, asset }));
    });
    await tx.execute(sql`
      with line as (
        select x.*, a.id as from_account, c.id as cost_account, j.id as journal
        from unnest(${arrayOf(moves.map((m) => m.id))}::bigint[],
            ${arrayOf(moves.map((m) => m.amount))}::bigint[],
            ${arrayOf(moves.map((m) => m.account))}::text[],
            ${arrayOf(moves.map((m) => m.group.costAccount))}::text[],
            ${arrayOf(moves.map((m) => m.book))}::smallint[],
            ${arrayOf(moves.map((m) => m.asset))}::bigint[],
            ${arrayOf(moves.map((m) => m.group.movement))}::text[],
            ${arrayOf(moves.map((m) => m.group.countsFrom))}::date[],
            ${arrayOf(moves.map((m) => m.moves))}::boolean[])
            with ordinality as x(intake, amount, from_number, cost_number, book, asset, movement,
              counts_from, moves, place)
          join account a on a.number = x.from_number
          left join account c on c.number = x.cost_number
          left join journal j on x.moves and j.origin_id = ${id} and j.book_id = x.book
            and j.reverses_id is null)
      insert into asset_entry (company_id, book_id, account_id, asset_id, intake_id, part, movement,
        date, counts_from, amount, journal_id, run_id, made_by, made_at)
      select ${companyId}, book, account, asset, intake, part, movement, ${params.date}::date,
        counts_from, amount, journal, ${id}, ${person.id}, ${now.toISOString()}
      from (
        select place, 1 as step, book, from_account as account, null::bigint as asset, intake,
          'waiting' as part, 'booked' as movement, null::date as counts_from, -amount as amount,
          journal from line
        union all
        select place, 2, book, cost_account, asset, intake, 'cost', movement, counts_from, amount,
          journal from line where asset is not null) x
      order by place, step`);
    await releaseItems(tx, id);
    return ok({});
  },
  async reversing({ tx }, { id }) {
    const [later] = await rows<{ number: string; by: string }>(
      tx,
      sql`select d.number, coalesce(r.number, max(j.number), 'another entry') as by
        from asset_entry e join document d on d.id = e.asset_id
          left join document r on r.id = e.run_id left join journal j on j.id = e.journal_id
        where e.asset_id in (select l.to_id from document_link l
            where l.from_id = ${id} and l.kind = 'made')
          and e.run_id is distinct from ${id}
        group by d.number, e.run_id, r.number having sum(e.amount) <> 0
        order by max(e.id) desc limit 1`,
    );
    return later
      ? fail({
          code: "RUN_STANDS_IN_WAY",
          what: `${later.number} has moved since by ${later.by}; reverse that first`,
        })
      : ok({});
  },
  async reversed({ tx, person, now }, { id, reversal }) {
    // What needed no journal is taken back by itself; the rest its reversal has taken back.
    await tx.execute(sql`
      insert into asset_entry (company_id, book_id, account_id, asset_id, intake_id, part, movement,
        date, counts_from, amount, run_id, made_by, made_at)
      select company_id, book_id, account_id, asset_id, intake_id, part, movement,
        greatest(date, ${reversal.date}::date), counts_from, -amount, run_id, ${person.id},
        ${now.toISOString()}
      from asset_entry where run_id = ${id} and journal_id is null order by id`);
    const made = await rows<{ id: number }>(
      tx,
      sql`select l.to_id::int as id from document_link l join document d on d.id = l.to_id
        where l.from_id = ${id} and l.kind = 'made' and d.kind = 'asset'`,
    );
    await setStatus(
      tx,
      made.map((m) => m.id),
      "cancelled",
    );
  },
});

const keyOf = (line: IntakeLine): string => `intake|${line.id}`;

function itemOf(
  group: Group,
  currency: string,
  dropped: ReadonlySet<string>,
  hasJournal: boolean,
): RunItem {
  const { lead, lines, amount, classOf } = group;
  const key = keyOf(lead);
  const { content } = lead;
  const what =
    content.into === "asset"
      ? ruleText(rulesFor(group, currency).common)
      : content.into === "expense"
        ? `expense ${content.account}`
        : `${INTO_NAMES[content.into].toLowerCase()}: ${content.asset}`;
  return {
    key,
    label: content.description,
    group: content.into === "asset" ? (classOf?.name ?? "") : INTO_NAMES[content.into],
    amount,
    why: what,
    droppable: true,
    ...(hasJournal && !dropped.has(key) ? { drafts: [0] } : {}),
    explanation: {
      title: content.description,
      steps: [
        ...lines.map((l): Step => ({
          label: [l.source.document?.number ?? l.source.journal.number, l.source.partner]
            .filter(Boolean)
            .join(", "),
          amount: l.amount,
          text: l.source.description,
        })),
        { label: "Together", amount, total: true },
      ],
    },
  };
}

function takenOf(group: Group, currency: string): Taken {
  const { lead, lines, classOf } = group;
  const { content } = lead;
  const target = targetOf(group);
  return {
    lead: lead.id,
    lines: lines.map((l) => ({
      id: l.id,
      amount: String(l.amount),
      account: l.source.account,
      book: l.source.book,
      moves: l.source.account !== target,
    })),
    costAccount: content.into === "expense" ? "" : target,
    countsFrom: group.countsFrom,
    movement: content.into === "correction" ? "correction" : "addition",
    ...(content.into === "asset"
      ? {
          make: {
            classId: classOf!.id,
            title: content.description,
            inService: content.inService!,
            rules: rulesFor(group, currency),
            quantity: content.quantity ?? "1",
            serial: content.serial ?? "",
            place: content.place ?? "",
            person: content.person ?? "",
            dimensions: content.dimensions,
            amount: String(group.amount),
          },
        }
      : content.into === "expense"
        ? {}
        : { asset: content.asset! }),
  };
}
