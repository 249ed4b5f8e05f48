import { describe, expect, test } from "vitest";
import { minor } from "@/core/shared";
import { callerOf, journal, must, PASSWORD, runAs, codes, proposalOf } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { savePerson } from "../access";
import { saveApprovalRule } from "../approvals";
import {
  createJournal,
  endRecurring,
  getJournal,
  getRecurring,
  listRecurring,
  postDrafts,
  saveRecurring,
  skipRecurring,
} from "../ledger";
import { verify } from "../verify";
import { saveAccount, saveJournalType } from "../organisation";
import { changeRun, getRun, listRuns, postRun, proposeRun, reverseRun } from "../runs";
import "./index";

const w = world();
const line = (
  account: string,
  costCentre: string,
  debit: string,
  credit: string,
  description = "",
) => ({
  account,
  dimensions: (costCentre ? { costCentre } : {}) as Record<string, string>,
  description,
  debit,
  credit,
});
const template = (
  name: string,
  first: string,
  lines: ReturnType<typeof line>[],
  more: object = {},
) => ({
  name,
  rhythm: { every: 1, unit: "month", first, until: "" },
  content: {
    company: "ALP",
    type: "general",
    description: `${name}, {month} {year}`,
    lines,
    ...more,
  },
});
const linesOf = async (key: string) => {
  const j = must(await getJournal(await callerOf(w.database, "root"), { key }));
  return j.kind === "posted"
    ? j.lines.map((l) => `${l.account} ${l.dimensions.costCentre ?? ""} ${l.side} ${l.amount}`)
    : [];
};
const propose = async (upTo: string, only: number[] = [], who: "root" | "accountant" = "root") =>
  proposeRun(await callerOf(w.database, who), {
    kind: "recurring",
    params: { company: "ALP", upTo, only },
  });

describe("recurring journals", () => {
  test("fixed, asked for, and computed from balances and units, from preview to posted and back", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await runAs(root, (c) =>
        postDrafts(c, [
          journal({
            date: "2026-09-20",
            lines: [
              {
                account: "1100",
                dimensions: {},
                description: "",
                side: "debit",
                amount: minor(12_345_637n),
              },
              {
                account: "4010",
                dimensions: { costCentre: "VESS" },
                description: "",
                side: "credit",
                amount: minor(12_345_637n),
              },
            ],
          }),
          journal({
            date: "2026-09-20",
            lines: (
              [
                ["VESS", 200_000n],
                ["HARB", 100_000n],
              ] as const
            ).map(([costCentre, quantity]) => ({
              account: "9010",
              dimensions: { costCentre },
              description: "",
              side: "debit" as const,
              amount: minor(0n),
              quantity,
            })),
          }),
        ]),
      ),
    );
    const fixed = must(
      await saveRecurring(
        root,
        template("Insurance", "2026-08-31", [
          line("6310", "ADM", "100.00", ""),
          line("2410", "", "", "100.00"),
        ]),
      ),
    );
    const asked = must(
      await saveRecurring(
        root,
        template("Electricity", "2026-09-30", [
          line("6310", "ADM", "?", "", "meter"),
          line("2410", "", "", "rest"),
        ]),
      ),
    );
    const computed = must(
      await saveRecurring(
        root,
        template("Island fund", "2026-09-30", [
          line("2410", "", "", "4% of 4010"),
          line("6310", "VESS", "rest by 9010", ""),
          line("6310", "HARB", "rest by 9010", ""),
        ]),
      ),
    );
    expect(
      must(await listRecurring(root, { company: "ALP", upTo: "2026-10-31" })).map((r) => [
        r.name,
        r.due,
      ]),
    ).toEqual([
      ["Electricity", ["2026-09-30", "2026-10-31"]],
      ["Insurance", ["2026-08-31", "2026-09-30", "2026-10-31"]],
      ["Island fund", ["2026-09-30", "2026-10-31"]],
    ]);
    must(
      await skipRecurring(root, { id: fixed.id, date: "2026-08-31", reason: "paid by the broker" }),
    );

    const run = must(await propose("2026-09-30"));
    const first = await proposalOf(root, run.number);
    expect(first.items.map((i) => [i.label, i.amount, i.leftOut])).toEqual([
      ["Electricity", 0n, "it waits for an amount"],
      ["Insurance", 10_000n, undefined],
      ["Island fund", 493_825n, undefined],
    ]);
    // What is in this preview is not taken by another, and not made yet.
    expect(must(await getRecurring(root, { id: computed.id, upTo: "2026-09-30" })).last).toBeNull();
    expect(codes(await propose("2026-09-30", [fixed.id]))).toEqual(["NOT_FOUND"]);
    const ask = first.items[0]!.asks![0]!;
    must(
      await changeRun(root, {
        key: run.number,
        dropped: [first.items[1]!.key],
        amounts: { [ask.key]: "812.50" },
      }),
    );
    const posted = must(await postRun(root, { key: run.number }));
    expect(await Promise.all(posted.journals.map(linesOf))).toEqual([
      ["6310 ADM debit 81250", "2410  credit 81250"],
      // 4 % of 123,456.37 is 4,938.2548, shared 200 to 100.
      ["2410  credit 493825", "6310 VESS debit 329217", "6310 HARB debit 164608"],
    ]);
    expect(must(await getRecurring(root, { id: computed.id, upTo: "2026-09-30" }))).toMatchObject({
      due: [],
      last: "2026-09-30",
      made: [{ number: posted.journals[1], total: 493_825n }],
    });
    // Who works for another company alone doesn't see its runs.
    must(
      await savePerson(root, {
        login: "yard",
        name: "Yard Keeper",
        password: PASSWORD,
        grants: [{ role: "accountant", company: "BET" }],
      }),
    );
    const yard = await callerOf(w.database, "yard");
    expect(codes(await getRun(yard, { key: run.number }))).toEqual(["FORBIDDEN"]);
    expect(codes(await listRuns(yard, { company: "ALP" }))).toEqual(["FORBIDDEN"]);
    expect(must(await listRuns(root, { company: "ALP" })).rows.map((r) => r.number)).toEqual([
      run.number,
    ]);
    // What was dropped is due as before; reversing the run makes the others due again.
    expect(must(await getRecurring(root, { id: fixed.id, upTo: "2026-09-30" })).due).toEqual([
      "2026-09-30",
    ]);
    must(await reverseRun(root, { key: run.number, reason: "wrong month" }));
    expect(must(await getRecurring(root, { id: asked.id, upTo: "2026-09-30" })).due).toEqual([
      "2026-09-30",
    ]);
    must(await endRecurring(root, { id: asked.id, to: "ended" }));
    must(await endRecurring(root, { id: computed.id, to: "ended" }));
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("a balance that moves after the preview is not posted as it was", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await saveRecurring(
        root,
        template("Levy", "2026-10-31", [
          line("6310", "ADM", "10% of 4020", ""),
          line("2410", "", "", "rest"),
        ]),
      ),
    );
    const sale = (amount: bigint) =>
      journal({
        date: "2026-10-02",
        lines: [
          {
            account: "1100",
            dimensions: {},
            description: "",
            side: "debit",
            amount: minor(amount),
          },
          {
            account: "4020",
            dimensions: { costCentre: "VESS" },
            description: "",
            side: "credit",
            amount: minor(amount),
          },
        ],
      });
    must(await runAs(root, (c) => postDrafts(c, [sale(5_000n)])));
    const run = must(await propose("2026-10-31"));
    must(await runAs(root, (c) => postDrafts(c, [sale(1n)])));
    expect(codes(await postRun(root, { key: run.number }))).toEqual(["RUN_MOVED"]);
  });

  test("what an approval rule covers is posted by somebody else who may approve it", async () => {
    const root = await callerOf(w.database, "root");
    const accountant = await callerOf(w.database, "accountant");
    must(
      await saveApprovalRule(root, {
        type: "general",
        minimum: "50,000.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    const { id } = must(
      await saveRecurring(
        accountant,
        template("Charter", "2026-10-15", [
          line("6310", "ADM", "60,000.00", ""),
          line("2410", "", "", "60,000.00"),
        ]),
      ),
    );
    const run = must(await propose("2026-10-31", [id], "accountant"));
    expect(must(await getRun(root, { key: run.number })).approval).toContain(
      "approved by a controller",
    );
    expect(codes(await postRun(accountant, { key: run.number }))).toEqual(["RUN_APPROVAL"]);
    must(await postRun(await callerOf(w.database, "controller"), { key: run.number }));
  });

  test("what is wrong with a rule or a coding is said at its cell, and nothing is kept", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const bad = await saveRecurring(
      accountant,
      template("Bad", "2026-10-31", [
        line("6310", "NONE", "4 parts", ""),
        line("2410", "", "", "4% of 9010"),
        line("9999", "", "0.35 per 4010", ""),
      ]),
    );
    expect(
      bad.ok
        ? []
        : bad.problems.map(
            (p) => `${"line" in p ? p.line : ""} ${"field" in p ? p.field : ""} ${p.code}`,
          ),
    ).toEqual(
      expect.arrayContaining([
        "1 debit RULE_INVALID",
        "2 credit INVALID",
        "3 debit INVALID",
        "1 costCentre VALUE_UNKNOWN",
        "3 account ACCOUNT_UNKNOWN",
      ]),
    );
    expect(
      codes(
        await saveRecurring(
          accountant,
          template("No date", "soon", [
            line("6310", "ADM", "1.00", ""),
            line("2410", "", "", "1.00"),
          ]),
        ),
      ),
    ).toEqual(["DATE_INVALID"]);
    expect(
      codes(
        await saveRecurring(
          accountant,
          template("Uneven", "2026-10-31", [
            line("6310", "ADM", "1.00", ""),
            line("2410", "", "", "2.00"),
          ]),
        ),
      ),
    ).toEqual(["UNBALANCED"]);
  });
});

describe("journal types and accounts of companies", () => {
  test("a type may belong to one book alone, number in a series of its own, and always want approval", async () => {
    const root = await callerOf(w.database, "root");
    const entry = (more: object) => ({
      company: "ALP",
      type: "tax-only",
      date: "2026-10-05",
      description: "Tax adjustment",
      lines: [line("6310", "ADM", "1.00", ""), line("2710", "", "", "1.00")],
      post: true,
      ...more,
    });
    must(
      await saveJournalType(root, {
        code: "tax-only",
        name: "Tax adjustment",
        books: ["TAX"],
        prefix: "t",
      }),
    );
    expect(codes(await createJournal(root, entry({})))).toEqual(["TYPE_BOOK"]);
    expect(must(await createJournal(root, entry({ book: "TAX" }))).number).toBe("ALP-26-T00001");
    must(
      await saveJournalType(root, {
        code: "tax-only",
        name: "Tax adjustment",
        books: ["TAX"],
        prefix: "t",
        approval: "always",
      }),
    );
    expect(codes(await createJournal(root, entry({ book: "TAX" })))).toEqual(["APPROVAL_NEEDED"]);
  });
  test("an account that a company does not use takes none of its postings", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await saveAccount(root, {
        number: "6399",
        name: "Slipway dues",
        type: "expense",
        heading: "63",
        companies: ["BET"],
      }),
    );
    const entry = (company: string) => ({
      company,
      type: "correction",
      date: "2026-10-05",
      description: "Slipway",
      lines: [line("6399", "ADM", "1.00", ""), line("2410", "", "", "1.00")],
      post: true,
    });
    expect(codes(await createJournal(root, entry("ALP")))).toEqual(["ACCOUNT_NOT_USED"]);
    must(await createJournal(root, entry("BET")));
  });
});
