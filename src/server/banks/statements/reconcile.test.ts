import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import type { JournalDraft } from "@/core/ledger";
import { minor } from "@/core/shared";
import { bankDay, file, IBAN } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, codes, must, runAs } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { closeBoard } from "../../closing";
import { addAttachment, papersOf, removeAttachment } from "../../documents";
import { postDrafts, reverseJournal } from "../../ledger";
import { reverseRun } from "../../runs";
import {
  addPaperLine,
  bankPosition,
  closeReconciliation,
  decideLine,
  dropPaperStatement,
  getPaperStatement,
  getStatementLine,
  getReconciliation,
  importStatements,
  listReconciliations,
  reconciliationPdf,
  reopenReconciliation,
  saveBankAccount,
  startPaperStatement,
  tickJournals,
  prepareReconciliation,
} from "../index";

const w = world();
const { treasury, root, post, faults } = bankDay(w);

/** Money that the ledger has moved on the bank's account; in above nil. */
const moved = async (date: string, amount: number, description: string) => {
  const [debit, credit] = amount > 0 ? ["1110", "7450"] : ["7450", "1110"];
  const line = (account: string, side: "debit" | "credit") => ({
    account,
    side,
    amount: minor(BigInt(Math.abs(amount)) * 100n),
    dimensions: (account === "7450" ? { costCentre: "HARB" } : {}) as Record<string, string>,
    description: "",
  });
  const draft: JournalDraft = {
    company: "ALP",
    type: "bank",
    book: null,
    date,
    description,
    lines: [line(debit!, "debit"), line(credit!, "credit")],
  };
  return runAs(await root(), (c) => postDrafts(c, [draft]));
};
const position = async (date: string) =>
  must(await bankPosition(await treasury(), { company: "ALP", date }))[0]!;
const paper = async (number: string, more: object = {}) =>
  startPaperStatement(await treasury(), {
    company: "ALP",
    bank: "MAIN",
    number,
    closingDate: "2026-09-30",
    closing: "150.00",
    ...more,
  });
const sheet = async (id: number) => must(await getPaperStatement(await treasury(), { id }));
const close = async (date: string) =>
  closeReconciliation(await treasury(), { company: "ALP", bank: "MAIN", date });
const tick = async (id: number, journals: number[], on = true) =>
  tickJournals(await treasury(), { id, journals, on });
const prepare = async (input: object) => prepareReconciliation(await treasury(), input);
const whats = (result: { ok: boolean; problems?: readonly object[] }) =>
  result.ok ? "" : JSON.stringify(result.problems);

const banksCheck = async () =>
  must(await closeBoard(await root(), { company: "ALP", period: "2026-09" })).checks.find(
    (c) => c.code === "banks",
  );

let journals: number[];
let id: number;

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  journals = [];
  for (const [date, amount, text] of [
    ["2026-09-04", 100, "Money of Ostry"],
    ["2026-09-11", -30, "Rent"],
    ["2026-09-29", -20, "A cheque that nobody has presented"],
    ["2026-09-30", 85, "Money of Pelham"],
  ] as const)
    journals.push(must(await moved(date, amount, text))[0]!.id);
});

describe("a statement of paper", () => {
  test("asks the first time where it begins, and says at the field what cannot be", async () => {
    expect(codes(await paper("9"))).toEqual(["INVALID"]);
    const first = { openingDate: "2026-08-31", opening: "0.00" };
    expect(whats(await paper("9", { ...first, closing: "many" }))).toContain("closing");
    expect(whats(await paper("9", { ...first, closingDate: "2026-08-31" }))).toContain("after");
    expect(whats(await paper("9", { ...first, closingDate: "2027-01-01" }))).toContain("come yet");
    id = must(await paper("9", first)).id;
    expect(whats(await paper("9", first))).toContain("already");
  });

  test("counts down to nil as lines are ticked, and up again as they are taken back", async () => {
    expect((await sheet(id)).difference).toBe(-15_000n);
    expect((await sheet(id)).lines).toHaveLength(4);
    must(await tick(id, [journals[0]!, journals[1]!, journals[3]!]));
    expect((await sheet(id)).difference).toBe(500n);
    expect(must(await tick(id, [journals[0]!])).ticked).toBe(0);
    must(await tick(id, [journals[1]!], false));
    expect((await sheet(id)).difference).toBe(3_500n);
    must(await tick(id, [journals[1]!]));
    // Two people who tick the same at once tick it once.
    await Promise.all([tick(id, [journals[2]!]), tick(id, [journals[2]!])]);
    expect((await sheet(id)).lines.filter((l) => l.line !== null)).toHaveLength(4);
    must(await tick(id, [journals[2]!], false));
  });

  test("takes what only the bank knows, which is posted like any line of a bank", async () => {
    expect(whats(await close("2026-09-30"))).toContain("difference");
    const line = must(
      await addPaperLine(await treasury(), {
        id,
        date: "2026-09-30",
        amount: "-5.00",
        text: "Charge of the quarter",
      }),
    );
    expect((await sheet(id)).difference).toBe(0n);
    expect(whats(await close("2026-09-30"))).toContain("not posted");
    const { version } = must(await getStatementLine(await treasury(), { id: line.id }));
    must(
      await decideLine(await treasury(), {
        id: line.id,
        version,
        coding: { account: "7450", dimensions: { costCentre: "HARB" } },
      }),
    );
    await post();
    expect(await position("2026-09-30")).toMatchObject({
      bank: { amount: 15_000n, statement: "9" },
      ledger: 13_000n,
      unexplained: 0n,
      notOnStatement: [{ amount: -2_000n, age: 1 }],
    });
  });
});

describe("a reconciliation that is closed", () => {
  test("is asked for by the close, and keeps a paper and the head of the chain", async () => {
    expect(await banksCheck()).toMatchObject({ state: "fails" });
    // Papers are gathered before: two who begin at once gather them in one place.
    const place = { company: "ALP", bank: "MAIN", date: "2026-09-30" };
    const [one, two] = await Promise.all([prepare(place), prepare(place)]);
    expect(must(one)).toEqual(must(two));
    const prepared = must(one).id;
    const letter = { id: prepared, name: "letter.txt", content: btoa("The bank confirms 150.00") };
    must(await addAttachment(await treasury(), letter));
    // Two people at once close it once.
    const both = await Promise.all([close("2026-09-30"), close("2026-09-30")]);
    expect(both.filter((r) => r.ok)).toHaveLength(1);
    expect(await banksCheck()).toMatchObject({ state: "holds" });
    const [kept] = must(await listReconciliations(await treasury(), { company: "ALP" }));
    expect(kept).toMatchObject({ bank: "MAIN", date: "2026-09-30", reopened: null });
    const pdf = must(await reconciliationPdf(await treasury(), { id: kept!.id }));
    expect(Buffer.from(pdf.content.slice(0, 5)).toString()).toBe("%PDF-");
    expect(kept!.documentId).toBe(prepared);
    expect(whats(await addAttachment(await treasury(), letter))).toContain(
      "closed with the papers",
    );
    expect(whats(await prepare(place))).toContain("reconciled up to");
    const [paper] = must(await papersOf(await treasury(), { id: prepared })).attachments;
    expect(paper).toMatchObject({ name: "letter.txt", mayRemove: false });
    expect(codes(await removeAttachment(await treasury(), { id: paper!.id }))).not.toEqual([]);
    expect(must(await getReconciliation(await treasury(), { id: prepared }))).toMatchObject({
      bank: "MAIN",
      closed: { id: kept!.id, reopened: null },
    });
    const [head] = await rows<{ same: boolean }>(
      w.database.db,
      sql`select r.head_hash = j.hash as same from reconciliation r join journal j
        on j.company_id = r.company_id and j.seq = r.head_seq`,
    );
    expect(head!.same).toBe(true);
  });

  test("lets nothing of the account change up to its day: no journal, tick, line, statement or reversal", async () => {
    expect(whats(await moved("2026-09-30", 1, "Late"))).toContain("reconciled up to 30 Sep 2026");
    must(await moved("2026-10-01", 1, "On the next day"));
    expect(whats(await tick(id, [journals[0]!], false))).toContain("reopen");
    expect(whats(await dropPaperStatement(await treasury(), { id }))).toContain("reopen");
    expect(whats(await paper("8", { openingDate: "2026-08-01", opening: "0" }))).toContain("up to");
    const before = { openingDate: "2026-09-01", opening: "0", closingDate: "2026-10-04" };
    expect(whats(await paper("8", before))).toContain("opens there, or later");
    const early =
      ":20:A\n:25:DE02500105170137075030\n:28C:1\n:60F:C260901EUR0,00\n:61:260902C5,00NTRFX\n:62F:C260902EUR5,00\n-";
    expect(whats(await importStatements(await treasury(), file("early.sta", early)))).toContain(
      "reconciled up to",
    );
    const [run] = await rows<{ id: bigint }>(
      w.database.db,
      sql`select max(run_id) as id from statement_line`,
    );
    expect(
      whats(await reverseRun(await treasury(), { key: String(run!.id), reason: "Wrong day" })),
    ).toContain("reopen");
    expect(
      whats(await reverseJournal(await root(), { key: String(journals[0]), date: "2026-09-30" })),
    ).toContain("reconciled");
    for (const statement of [
      sql`update statement_line set amount = amount + 1`,
      sql`delete from statement_line`,
      sql`update bank_statement set closing = closing + 1`,
      sql`update reconciliation set ledger = 0`,
      sql`delete from reconciliation`,
      sql`truncate reconciliation`,
    ])
      await expect(w.database.db.execute(statement)).rejects.toMatchObject({
        cause: { code: "YA001" },
      });
  });

  test("stands on the ledger account of then; verification names what has changed behind it", async () => {
    expect(
      codes(
        await saveBankAccount(await root(), {
          ...BANK_OF_ALPHA,
          iban: IBAN,
          account: "1112",
          version: 1,
        }),
      ),
    ).toEqual(["IN_USE"]);
    expect(await faults()).toEqual([]);
    await w.database.db.execute(sql`update bank_account set account = '1112' where code = 'MAIN'`);
    expect(await faults()).toEqual([
      expect.stringMatching(/^MAIN on 30 Sep 2026: bank 150\.00 and ledger 130\.00 when/) as string,
    ]);
    await w.database.db.execute(sql`update bank_account set account = '1110' where code = 'MAIN'`);
  });

  test("is reopened from the last one backwards, with a reason, and then nothing is lost", async () => {
    const october = must(await paper("10", { closingDate: "2026-10-04", closing: "131.00" }));
    const open = await sheet(october.id);
    expect(open.opening).toBe(15_000n);
    expect(open.lines.map((l) => l.amount)).toEqual([-2_000n, 100n]);
    must(
      await tick(
        october.id,
        open.lines.map((l) => l.journal!.id),
      ),
    );
    must(await close("2026-10-04"));
    // The cheque was not on the statement of September, though it is on a later one.
    expect(await position("2026-09-30")).toMatchObject({
      unexplained: 0n,
      notOnStatement: [{ amount: -2_000n }],
    });
    const [second, first] = must(await listReconciliations(await treasury(), { company: "ALP" }));
    const reopen = async (of: number, reason: string) =>
      reopenReconciliation(await treasury(), { id: of, reason });
    expect(whats(await reopen(first!.id, "A line too many"))).toContain("that one first");
    expect(codes(await reopen(second!.id, ""))).toEqual(["REASON_REQUIRED"]);
    must(await reopen(second!.id, "A line too many"));
    expect(whats(await reopen(second!.id, "A line too many"))).toContain("already");
    must(await reopen(first!.id, "A line too many"));
    expect((await position("2026-09-30")).unexplained).toBe(0n);
    must(await close("2026-09-30"));
    expect(await faults()).toEqual([]);
  });

  test("of somebody who closes and somebody who ticks at the same moment one is told", async () => {
    must(await moved("2026-10-08", -10, "Lamps"));
    must(await moved("2026-10-09", 7, "Money of a guest"));
    const next = must(await paper("11", { closingDate: "2026-10-10", closing: "121.00" }));
    const [lamps, guest] = (await sheet(next.id)).lines.map((l) => l.journal!.id);
    must(await tick(next.id, [lamps!]));
    const [closed, ticked] = await Promise.all([close("2026-10-10"), tick(next.id, [guest!])]);
    expect([closed.ok, ticked.ok].filter(Boolean)).toHaveLength(1);
    expect(await faults()).toEqual([]);
    if (ticked.ok) must(await tick(next.id, [guest!], false));
  });

  test("in the middle of a statement: what lies behind the day goes on", async () => {
    must(await moved("2026-10-13", 3, "Money of a second guest"));
    const long = must(await paper("12", { closingDate: "2026-10-14", closing: "131.00" }));
    must(await close("2026-10-12"));
    const open = await sheet(long.id);
    expect(open.heldUntil).toBe("2026-10-12");
    expect(open.lines.map((l) => l.date)).toEqual(["2026-10-09", "2026-10-13"]);
    const ids = open.lines.map((l) => l.journal!.id);
    must(await tick(long.id, ids));
    // What the ledger had before the day that is held comes onto the first day behind it.
    expect(await position("2026-10-12")).toMatchObject({ unexplained: 0n });
    expect((await sheet(long.id)).difference).toBe(0n);
    must(await close("2026-10-13"));
    expect(whats(await tick(long.id, ids, false))).toContain("is reconciled");
    expect(whats(await dropPaperStatement(await treasury(), { id: long.id }))).toContain("reopen");
    const [last] = must(await listReconciliations(await treasury(), { company: "ALP" }));
    must(await reopenReconciliation(await treasury(), { id: last!.id, reason: "Once more" }));
    must(await tick(long.id, ids, false));
    // A reconciliation that was closed on it once was closed on it.
    expect(whats(await dropPaperStatement(await treasury(), { id: long.id }))).toMatch(
      /it stays|reopen/,
    );
    const spare = must(await paper("13", { openingDate: "2026-10-14", closingDate: "2026-10-15" }));
    must(await dropPaperStatement(await treasury(), { id: spare.id }));
    expect(await faults()).toEqual([]);
  });
});

test("a journal between two accounts stands on the statement of each by itself", async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, code: "SAVE", account: "1112" }));
  const line = (account: string, side: "debit" | "credit") => ({
    account,
    side,
    amount: minor(4_000n),
    dimensions: {},
    description: "",
  });
  const draft: JournalDraft = {
    company: "ALP",
    type: "bank",
    book: null,
    date: "2026-10-15",
    description: "To the deposit account",
    lines: [line("1112", "debit"), line("1110", "credit")],
  };
  const [made] = must(await runAs(await root(), (c) => postDrafts(c, [draft])));
  const statements = await Promise.all(
    ["MAIN", "SAVE"].map(async (bank) =>
      must(
        await startPaperStatement(await treasury(), {
          company: "ALP",
          bank,
          number: `two-${bank}`,
          openingDate: "2026-10-14",
          opening: "0.00",
          closingDate: "2026-10-15",
          closing: bank === "MAIN" ? "-40.00" : "40.00",
        }),
      ),
    ),
  );
  const of = async (code: string) =>
    must(await bankPosition(await treasury(), { company: "ALP", date: "2026-10-15" })).find(
      (b) => b.code === code,
    )!;
  const missing = async (code: string) => (await of(code)).notOnStatement.map((i) => i.amount);
  const [main, save] = statements;
  must(await tick(main!.id, [made!.id]));
  // Of the one it is ticked; the other one still asks for it, and says so.
  expect(await missing("SAVE")).toEqual([4_000n]);
  expect((await sheet(save!.id)).lines).toMatchObject([{ amount: 4_000n, line: null }]);
  must(await tick(save!.id, [made!.id]));
  expect(await of("SAVE")).toMatchObject({ notOnStatement: [], unexplained: 0n });
  expect((await sheet(save!.id)).difference).toBe(0n);
});
