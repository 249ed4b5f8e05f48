import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { reverseJournal } from "../../ledger";
import { makePayment } from "../../payables";
import { loadRates } from "../../rates";
import {
  bankRegister,
  bookCash,
  getStatementLine,
  listBankAccounts,
  makeDeposit,
  saveBankAccount,
} from "../index";

const w = world();
const { treasury, root, takeIn, decide, post, lineOf, faults } = bankDay(w);

const book = async (more: object, by = treasury) =>
  bookCash(await by(), {
    company: "ALP",
    bank: "BOX",
    date: "2026-10-06",
    side: "out",
    amount: "20.00",
    text: "Stamps",
    is: "coding",
    account: "7450",
    dimensions: { costCentre: "HARB" },
    ...more,
  });
const register = async (bank = "BOX") =>
  must(
    await bankRegister(await treasury(), {
      company: "ALP",
      bank,
      from: "2026-10-01",
      to: "2026-10-31",
    }),
  );
let main: number;

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "BOX",
      name: "Harbour office",
      kind: "cash",
      account: "1105",
      newAccount: "Petty cash",
    }),
  );
  main = must(await listBankAccounts(await root(), {})).find((b) => b.code === "MAIN")!.id;
});

test("a box is filled from the bank, spent from, and its book says what it holds after each entry", async () => {
  expect(codes(await book({}))).toEqual(["INVALID"]);
  must(
    await book({ side: "in", amount: "100.00", text: "From the bank", is: "bank", other: main }),
  );
  must(await book({}));
  must(await book({ amount: "5.50", text: "Parking", date: "2026-10-07" }));
  expect(await register()).toMatchObject({ kind: "cash", opening: 0n, closing: 7_450n, of: 3 });
  expect((await register()).rows.map((r) => [r.date, r.text, r.amount, r.balance])).toEqual([
    ["2026-10-06", "From the bank", 10_000n, 10_000n],
    ["2026-10-06", "Stamps", -2_000n, 8_000n],
    ["2026-10-07", "Parking", -550n, 7_450n],
  ]);
  // The bank's line meets the money that is under way to the box.
  await takeIn(statement("400", 0n, [{ amount: -10_000n, text: "Cash withdrawal" }]));
  expect((await lineOf(-10_000n)).state).not.toBe("unexplained");
  expect(await faults()).toEqual([]);
});

test("no day of a box ends below nil, whichever way the ledger is asked", async () => {
  const below = async (result: Promise<unknown>) =>
    expect(await result).toMatchObject({
      ok: false,
      problems: [{ what: expect.stringContaining("nobody takes out what is not in it") as string }],
    });
  await below(book({ amount: "80.01" }));
  // What is left on the day is needed the day after.
  await below(book({ amount: "75.00", date: "2026-10-06" }));
  const [filled] = (await register()).rows;
  await below(reverseJournal(await root(), { key: String(filled!.id), reason: "Not so" }));
  expect((await register()).closing).toBe(7_450n);
});

test.each([
  ["a day to come", { date: "2026-12-01" }, "INVALID"],
  ["no figure", { amount: "some" }, "AMOUNT_NOT_NUMBER"],
  ["nothing", { amount: "0" }, "AMOUNT_NOT_NUMBER"],
  ["a control account", { account: "1310", dimensions: {} }, "CONTROL_ACCOUNT"],
  ["a bank account that is no box", { bank: "MAIN" }, "NOT_FOUND"],
  ["a box as the bank", { is: "bank", other: 0 }, "INVALID"],
  ["a kind that is none", { is: "kind", kind: "NONE" }, "INVALID"],
])("refused: %s", async (_name, more, code) => {
  expect(codes(await book(more))).toEqual([code]);
});

test("only who posts for banks writes in it", async () => {
  expect(codes(await book({}, () => callerOf(w.database, "payables")))).toEqual(["FORBIDDEN"]);
});

test("the register of an account says what made a movement and on which statement it stands", async () => {
  const line = await lineOf(-10_000n);
  const { candidates } = must(await getStatementLine(await treasury(), { id: line.id }));
  must(await decide(line.id, { takes: [{ item: candidates[0]!.takes[0]!.item!.id }] }));
  await post();
  const { rows, closing } = await register("MAIN");
  for (const r of rows) expect(r.line?.statement).toBe("400");
  expect(rows.reduce((t, r) => t + r.amount, 0n)).toBe(closing);
});

test("nothing is sent from a box, and no cheque is deposited in it", async () => {
  const refused = async (result: Promise<unknown>) =>
    expect(await result).toMatchObject({
      problems: [{ what: expect.stringContaining("BOX is a cash box") as string, field: "bank" }],
    });
  const clerk = await callerOf(w.database, "payables");
  await refused(
    makePayment(clerk, {
      company: "ALP",
      bank: "BOX",
      date: "2026-10-07",
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "1.00" }],
    }),
  );
  await refused(
    makeDeposit(await treasury(), {
      company: "ALP",
      bank: "BOX",
      date: "2026-10-07",
      parts: [{ kind: "cash", partner: "PEL", cheque: "", amount: "1.00", items: [] }],
    }),
  );
});

test("a box in dollars is held in dollars, whatever they are worth", async () => {
  const day = (date: string, rate: string) => ({ base: "EUR", quote: "USD", date, rate });
  must(
    await loadRates(await root(), {
      take: true,
      rows: [day("2026-10-06", "1.20"), day("2026-10-08", "1.00")],
    }),
  );
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "USD-BOX",
      name: "Terminal",
      kind: "cash",
      currency: "USD",
      account: "1115",
    }),
  );
  const spend = (amount: string, date: string, side = "out") =>
    book({ bank: "USD-BOX", amount, date, side });
  must(await spend("120.00", "2026-10-06", "in"));
  // It cost 100.00 euros and would be worth 120.00 by now: what counts is what is in it.
  expect(codes(await spend("120.01", "2026-10-08"))).toEqual(["INVALID"]);
  must(await spend("120.00", "2026-10-08"));
  expect(await register("USD-BOX")).toMatchObject({ currency: "USD", closing: 0n, of: 2 });
  expect(codes(await book({ bank: "USD-BOX", is: "bank", other: main, side: "in" }))).toEqual([
    "INVALID",
  ]);
  expect(await faults()).toEqual([]);
});
