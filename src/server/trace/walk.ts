import type { Account } from "@/core/ledger";
import { periodKey, periodName, type Period } from "@/core/organisation";
import {
  amountOf,
  amountOfPart,
  byPeriod,
  type Cells,
  type Part,
  type TraceNode,
} from "@/core/trace";
import { ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import type { ReportPlace } from "../ledger";
import { linesStation } from "./linesStation";
import { stationOf, type Station, type StationRow } from "./station";

/** The way down that is being taken. */
export interface Way {
  context: Context;
  place: ReportPlace;
  cells: Cells;
  values: readonly number[][];
  /** The steps that are still to be taken, and those that were. */
  path: string[];
  taken: string[];
  /** Each adds what it shows. */
  stations: Station[];
}

/**
 * Goes down the tree along the path; where there is only one way, it goes by itself. Gives the path
 * that was really taken.
 */
export async function walk(
  context: Context,
  place: ReportPlace,
  root: TraceNode,
  cells: Cells,
  path: string[],
  values: readonly number[][],
  stations: Station[],
): Promise<Result<string[]>> {
  const way: Way = { context, place, cells, values, path, taken: [], stations };
  const node = throughTotals(way, root);
  if (!node) return ok(way.taken);
  const chosen = throughAccounts(way, node);
  if (!chosen) return ok(way.taken);
  const period = throughPeriods(way, chosen.part, chosen.account);
  if (!period) return ok(way.taken);
  return linesStation(way, chosen.part, chosen.account, period);
}

/** Down to a node of accounts; null where nothing is entered. */
function throughTotals(way: Way, root: TraceNode): TraceNode | null {
  let node = root;
  while (node.children) {
    const next = way.path[0];
    const parts = node.children
      .map((child) => ({ child, step: `l.${child.key}`, amount: amountOf(child, way.cells) }))
      .filter((r) => r.amount !== 0n || next === r.step);
    const chosen = parts.length === 1 ? parts[0] : parts.find((r) => next === r.step);
    if (parts.length > 1)
      way.stations.push(
        stationOf(
          `Made of, ${parts.length}`,
          parts.map((r) => rowOf(r.step, r.child.label, r.amount, r === chosen)),
        ),
      );
    if (!chosen) return null;
    if (next === chosen.step) enter(way);
    node = chosen.child;
  }
  return node;
}

/** The account of a node that is entered; null where none is. */
function throughAccounts(way: Way, node: TraceNode): { part: Part; account: Account } | null {
  const { context, place, cells } = way;
  const next = way.path[0];
  const parts = (node.parts ?? [])
    .map((part) => {
      const account = context.masters.accountById.get(part.accountId)!;
      return { part, account, step: `a.${account.number}`, amount: amountOfPart(part, cells) };
    })
    .filter((p) => p.amount !== 0n || next === p.step || byPeriod(p.part, cells).length > 0);
  if (parts.length === 0) {
    const nothing = stationOf("Nothing", []);
    nothing.facts.push({ label: "", text: "No journal line has reached this figure." });
    way.stations.push(nothing);
    return null;
  }
  const chosen = parts.length === 1 ? parts[0] : parts.find((p) => next === p.step);
  const query = `company=${place.company.code}&book=${place.book.code}&period=${periodKey(place.to)}`;
  if (parts.length > 1)
    way.stations.push(
      stationOf(
        `Accounts, ${parts.length}`,
        parts.map((p) => ({
          ...rowOf(p.step, `${p.account.number} ${p.account.name}`, p.amount, p === chosen),
          href: `/ledger/accounts/${p.account.number}?${query}`,
        })),
      ),
    );
  if (!chosen) return null;
  if (next === chosen.step) enter(way);
  return chosen;
}

interface Stretch {
  step: string;
  label: string;
  amount: bigint;
  /** The periods that it holds: one, or those of a whole year. */
  periods: Period[];
}

/**
 * The period of an account that is entered; null where none is. Years before the one in view are
 * one row each; entering one shows its periods.
 */
function throughPeriods(way: Way, part: Part, account: Account): Period | null {
  const { place } = way;
  const kind = `${account.number} ${account.name}, by period`;
  const all = byPeriod(part, way.cells)
    .map((m) => stretchOf(place, m))
    .sort((a, b) => inOrder(a.periods[0]!, b.periods[0]!));
  const current = place.to.yearId;
  const isEarlier = (s: Stretch) => s.periods[0]!.yearId !== current;
  let list = all;
  if (all.length > 1 && all.some(isEarlier)) {
    const byYear = [...yearsOf(place, all.filter(isEarlier)), ...all.filter((s) => !isEarlier(s))];
    const chosen = choose(way, kind, byYear);
    if (!chosen) return null;
    list = all.filter((s) => chosen.periods.includes(s.periods[0]!));
  }
  const chosen = list.length > 1 ? choose(way, kind, list) : list[0];
  if (!chosen) return null;
  if (list.length === 1 && way.path[0]?.startsWith("p.")) enter(way);
  return chosen.periods[0]!;
}

function stretchOf(
  place: ReportPlace,
  { yearId, periodNo, amount }: { yearId: number; periodNo: number; amount: bigint },
): Stretch {
  const period = place.periods.find((p) => p.yearId === yearId && p.no === periodNo)!;
  return {
    step: `p.${periodKey(period)}`,
    label: periodName(period),
    amount,
    periods: [period],
  };
}

function yearsOf(place: ReportPlace, stretches: readonly Stretch[]): Stretch[] {
  const ids = [...new Set(stretches.map((s) => s.periods[0]!.yearId))];
  return ids.map((id) => {
    const { name } = place.years.find((y) => y.id === id)!;
    const own = stretches.filter((s) => s.periods[0]!.yearId === id);
    return {
      step: `y.${name}`,
      label: name,
      amount: own.reduce((t, s) => t + s.amount, 0n),
      periods: own.flatMap((s) => s.periods),
    };
  });
}

/** Adds the station of several, and enters the one that the path names. */
function choose(way: Way, kind: string, list: readonly Stretch[]): Stretch | undefined {
  const chosen = list.find((s) => s.step === way.path[0]);
  way.stations.push(
    stationOf(
      kind,
      list.map((s) => rowOf(s.step, s.label, s.amount, s === chosen)),
    ),
  );
  if (chosen) enter(way);
  return chosen;
}

const inOrder = (p: Period, q: Period): number =>
  p.start < q.start ? -1 : p.start > q.start ? 1 : p.no - q.no;

const rowOf = (step: string, label: string, amount: bigint, chosen: boolean): StationRow => ({
  step,
  label,
  note: "",
  amount,
  chosen,
  href: null,
});

const enter = (way: Way): void => void way.taken.push(way.path.shift()!);
