import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { minor } from "../../shared";
import {
  nextAction,
  promiseDays,
  promiseState,
  SCORE_PARTS,
  scoreOf,
  usualPolicy,
  whatLowers,
  type ActionFacts,
  type ScoreFacts,
} from "./index";

const quiet: ScoreFacts = {
  toCollect: minor(0n),
  daysLate: 0,
  broken: 0,
  lastBroken: null,
  grade: "",
  limitUsed: null,
  silent: null,
  soon: minor(0n),
  solved: null,
  pays: null,
};
const policy = usualPolicy();
const score = (more: Partial<ScoreFacts>) => scoreOf({ ...quiet, ...more }, policy, "EUR");
const pointsOf = (more: Partial<ScoreFacts>, code: string) =>
  score(more).parts.find((p) => p.code === code)!;

describe("the score", () => {
  test("a customer of whom nothing is known has none", () => expect(score({}).score).toBe(0));
  test("the usual parts come to a hundred", () =>
    expect(SCORE_PARTS.reduce((t, p) => t + policy[p], 0)).toBe(100));
  test("each part says what it found, and how many points that is", () => {
    expect(pointsOf({ daysLate: 31 }, "late")).toMatchObject({
      says: "31 days overdue",
      points: 13,
      most: 25,
    });
    expect(pointsOf({ toCollect: minor(2_500_000n) }, "amount")).toMatchObject({
      says: "25,000.00 to collect",
      points: 10,
    });
    expect(pointsOf({ broken: 1, lastBroken: 6 }, "broken")).toMatchObject({
      says: "1 promise broken, the last 6 days ago",
      points: 8,
    });
    expect(pointsOf({ grade: "C" }, "grade").points).toBe(5);
    expect(pointsOf({ limitUsed: 75 }, "limit").points).toBe(0);
    expect(pointsOf({ limitUsed: 100 }, "limit").points).toBe(10);
    expect(pointsOf({ pays: { now: 19, before: 13 } }, "trend")).toMatchObject({
      says: "Pays 19 days late, before 13 days late",
      points: 1,
    });
  });
  const facts = fc.record({
    toCollect: fc.bigInt({ min: 0n, max: 99_999_999n }).map(minor),
    daysLate: fc.nat(900),
    broken: fc.nat(9),
    lastBroken: fc.option(fc.nat(180)),
    grade: fc.constantFrom("" as const, "A" as const, "C" as const, "E" as const),
    limitUsed: fc.option(fc.nat(300)),
    silent: fc.option(fc.nat(400)),
    soon: fc.bigInt({ min: 0n, max: 9_999_999n }).map(minor),
    solved: fc.option(fc.nat(14)),
    pays: fc.option(fc.record({ now: fc.integer({ min: -40, max: 90 }), before: fc.constant(0) })),
  });
  test("is the sum of its parts, none below nothing or above its most", () =>
    fc.assert(
      fc.property(facts, (f) => {
        const { score: whole, parts } = scoreOf(f, policy, "EUR");
        expect(whole).toBe(parts.reduce((t, p) => t + p.points, 0));
        for (const p of parts) {
          expect(p.points).toBeGreaterThanOrEqual(0);
          expect(p.points).toBeLessThanOrEqual(p.most);
        }
      }),
    ));
  test("grows with days and amounts, and whatever is said to lower it does", () =>
    fc.assert(
      fc.property(facts, (f) => {
        const { score: now } = scoreOf(f, policy, "EUR");
        const worse = { ...f, daysLate: f.daysLate + 9, toCollect: minor(f.toCollect + 99_999n) };
        expect(scoreOf(worse, policy, "EUR").score).toBeGreaterThanOrEqual(now);
        for (const w of whatLowers(f, policy, "EUR")) expect(w.score).toBeLessThan(now);
      }),
    ));
});

describe("what to do next", () => {
  const of = (more: Partial<ActionFacts>) => {
    const { action, because } = nextAction(
      {
        ...quiet,
        overdue: minor(100n),
        toCollect: minor(100n),
        disputed: minor(0n),
        promised: minor(0n),
        promisedFor: null,
        ...more,
      },
      "EUR",
    );
    return `${action}: ${because}`;
  };
  test.each([
    [{ toCollect: minor(0n) }, "wait: nothing to collect"],
    [
      { toCollect: minor(0n), promised: minor(5n), promisedFor: "2026-11-13" },
      "wait: promised for 13 Nov 2026",
    ],
    [{ toCollect: minor(0n), disputed: minor(1_230_000n) }, "ask sales: 12,300.00 in dispute"],
    [{ limitUsed: 118, daysLate: 40 }, "stop delivery: 118 % of the limit used"],
    [{ lastBroken: 6, broken: 1, daysLate: 31 }, "call: promise broken 6 days ago"],
    [{ limitUsed: 118, daysLate: 8 }, "call: 118 % of the limit used"],
    [{ daysLate: 31 }, "call: 31 days overdue"],
    [{ daysLate: 2 }, "wait: 2 days overdue, it may be under way"],
    [{ daysLate: 12, silent: 44 }, "write: silent for 44 days"],
    [{ daysLate: 12, silent: 3 }, "write: 12 days overdue"],
  ] as [Partial<ActionFacts>, string][])("%#", (facts, says) => expect(of(facts)).toBe(says));
});

describe("promises", () => {
  const promise = { amount: 100n, paid: 0n, due: "2026-11-06", withdrawn: false };
  test("one is open until its day has gone, then kept, kept in part, or broken", () => {
    const on = (day: string, paid: bigint) => promiseState({ ...promise, paid, on: day });
    expect(on("2026-11-06", 0n)).toBe("open");
    expect(on("2026-11-06", 100n)).toBe("kept");
    expect(on("2026-11-06", 40n)).toBe("open");
    expect(on("2026-11-07", 40n)).toBe("part");
    expect(on("2026-11-07", 0n)).toBe("broken");
    expect(promiseState({ ...promise, on: "2026-11-07", withdrawn: true })).toBe("withdrawn");
  });
  test("days by key, also on a Friday and at the end of a year", () => {
    const days = (today: string) => promiseDays(today).map((d) => d.day);
    expect(days("2026-11-05")).toEqual([
      "2026-11-05",
      "2026-11-06",
      "2026-11-06",
      "2026-11-13",
      "2026-11-30",
    ]);
    expect(days("2026-11-06")[2]).toBe("2026-11-13");
    expect(days("2026-12-31").slice(1)).toEqual([
      "2027-01-01",
      "2027-01-01",
      "2027-01-08",
      "2026-12-31",
    ]);
  });
});
