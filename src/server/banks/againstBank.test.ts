import { beforeAll, expect, test } from "vitest";
import { minor } from "@/core/shared";
import { callerOf, codes, journal, BANK_OF_ALPHA, must, runAs } from "../../../tests/world";
import { world } from "../../../tests/useWorld";

import { postDrafts } from "../ledger";
import { loadRates } from "../rates";
import { makePayment } from "../payables";
import { saveBankAccount } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");

/** So much comes onto the account of a bank, in its currency at what it is carried at. */
const comesIn = async (account: string, currency: string, amount: bigint, carried = amount) => {
  const line = (number: string, side: "debit" | "credit") => ({
    account: number,
    dimensions: {},
    description: "",
    side,
    amount: minor(carried),
    ...(currency === "EUR" ? {} : { foreignAmount: minor(amount) }),
  });
  const draft = journal({
    type: "bank",
    ...(currency === "EUR" ? {} : { currency }),
    lines: [line(account, "debit"), line("2410", "credit")],
  });
  must(await runAs(await root(), (c) => postDrafts(c, [draft])));
};
const pay = async (bank: string, amount: string, currency = "EUR") =>
  makePayment(await callerOf(w.database, "payables"), {
    company: "ALP",
    bank,
    date: "2026-10-05",
    payee: "Quay office",
    currency,
    lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount }],
  });

beforeAll(async () => {
  const account = { ...BANK_OF_ALPHA, overdraft: "0", refuse: true };
  for (const own of [
    { code: "FIRST", account: "1110" },
    { code: "SECOND", account: "1111" },
    { code: "DOLLAR", account: "1115", currency: "USD" },
  ])
    must(await saveBankAccount(await root(), { ...account, ...own, name: own.code }));
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "USD", quote: "EUR", date: "2026-10-05", rate: "2" }],
    }),
  );
  await comesIn("1110", "EUR", 100_000n);
  await comesIn("1111", "EUR", 100_000n);
  await comesIn("1115", "USD", 100_000n, 80_000n);
});

test("money under way lowers what its own bank account has, and no other's", async () => {
  must(await pay("FIRST", "900.00"));
  const over = await pay("FIRST", "200.00");
  expect(over).toMatchObject({
    problems: [{ what: expect.stringMatching(/^FIRST would stand at −100\.00 EUR/) as string }],
  });
  must(await pay("SECOND", "200.00"));
});

test("an account in dollars is judged in dollars, whatever they are carried at", async () => {
  must(await pay("DOLLAR", "900.00", "USD"));
  expect(codes(await pay("DOLLAR", "100.01", "USD"))).toEqual(["RUN_STANDS_IN_WAY"]);
  must(await pay("DOLLAR", "100.00", "USD"));
});

test("a note counts when it is due, and is no larger than what may leave the account", async () => {
  const clerk = await callerOf(w.database, "payables");
  const note = async (amount: string, more: object = {}) =>
    codes(
      await makePayment(clerk, {
        company: "ALP",
        bank: "NOTES",
        date: "2026-10-05",
        payee: "Quay office",
        method: "note",
        dueDate: "2026-10-10",
        lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount }],
        ...more,
      }),
    );
  const own = { ...BANK_OF_ALPHA, code: "NOTES", account: "1112", overdraft: "0", refuse: true };
  must(await saveBankAccount(await root(), { ...own, largestPayment: "700.00" }));
  await comesIn("1112", "EUR", 100_000n);
  expect(await note("700.01")).toEqual(["RUN_STANDS_IN_WAY"]);
  // What is promised for later asks nobody for the money today.
  expect(await note("700.00")).toEqual([]);
  expect(await note("600.00")).toEqual([]);
  const pays = { method: "manual", dueDate: "" };
  expect(await note("500.00", { ...pays, date: "2026-10-09" })).toEqual([]);
  expect(await note("1.00", { ...pays, date: "2026-10-10" })).toEqual(["RUN_STANDS_IN_WAY"]);
});
