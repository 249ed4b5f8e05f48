import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, file, IBAN } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { savePartner } from "../../partners";
import { makePayment } from "../../payables";
import { importStatements, makeDeposit, saveBankAccount, simulatedBankDay } from "../index";

const w = world();
const { treasury, root, lines, post } = bankDay(w);
const next = async (format = "camt.053") =>
  simulatedBankDay(await treasury(), { bank: "MAIN", format });
const takeNext = async (format?: string) => {
  const { name, content } = must(await next(format));
  return must(await importStatements(await treasury(), file(name, content)));
};
const pay = async (date: string) =>
  must(
    await makePayment(await callerOf(w.database, "payables"), {
      company: "ALP",
      bank: "MAIN",
      date,
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "240.00" }],
    }),
  );

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
});

test("there is a simulated bank in the demo alone", async () => {
  expect(codes(await next())).toEqual(["NOT_FOUND"]);
  await w.database.db.execute(sql`insert into setting (key, value) values ('demo', 'true')`);
  expect(must(await next()).day).toBe("2026-10-13");
});

test("its days follow each other up to today, each payment executed once, in either format", async () => {
  const first = await pay("2026-10-13");
  const second = await pay("2026-10-14");
  await takeNext();
  const [line] = await lines();
  expect(line).toMatchObject({ amount: -24_000n, state: "certain" });
  expect((await takeNext("MT940")).lines).toBe(1);
  expect((await takeNext()).lines).toBe(0);
  const refused = await next();
  expect(refused.ok ? "" : refused.problems).toMatchObject([
    { what: "MAIN has its statement of 15 Oct 2026; the bank's next day is 16 Oct 2026" },
  ]);
  await post();
  const states = await rows<{ status: string }>(
    w.database.db,
    sql`select status from document where id in (${first.id}, ${second.id})`,
  );
  expect(states.map((s) => s.status)).toEqual(["cleared", "cleared"]);
  const doubts = await rows<{ doubt: string; number: string }>(
    w.database.db,
    sql`select doubt, number from bank_statement order by closing_date`,
  );
  expect(doubts).toEqual(["1", "2", "3"].map((number) => ({ doubt: "", number })));
});

test("a slip is credited the day after, a bill on its day, and a note of ours is not paid before it is due", async () => {
  const two = { ...BANK_OF_ALPHA, code: "TWO", account: "1112", iban: "DE75512108001245126199" };
  must(await saveBankAccount(await root(), two));
  must(
    await savePartner(await root(), { code: "OST", name: "Ostry", customer: true, country: "IE" }),
  );
  const part = (kind: string, cheque: string, amount: string, more: object = {}) => ({
    kind,
    partner: "OST",
    cheque,
    amount,
    ...more,
  });
  const slip = must(
    await makeDeposit(await treasury(), {
      company: "ALP",
      bank: "TWO",
      date: "2026-10-12",
      parts: [
        part("cheque", "100", "5.00"),
        part("cheque", "101", "6.00"),
        part("bill", "W-10001", "9.00", { dueDate: "2026-10-14" }),
        part("bill", "W-10002", "10.00", { dueDate: "2026-10-16" }),
      ],
    }),
  );
  must(
    await makePayment(await callerOf(w.database, "payables"), {
      company: "ALP",
      bank: "TWO",
      date: "2026-10-12",
      method: "note",
      dueDate: "2026-10-16",
      supplier: "PEL",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "240.00" }],
    }),
  );
  const days: [bigint, string][][] = [];
  for (let n = 0; n < 3; n++) {
    const { name, content } = must(
      await simulatedBankDay(await treasury(), { bank: "TWO", format: "camt.053" }),
    );
    const { statements } = must(await importStatements(await treasury(), file(name, content)));
    const of = (await lines()).filter(
      (l) => l.statement === statements[0]!.number && l.bank === "TWO",
    );
    days.push(of.map((l) => [l.amount, l.text]));
  }
  expect(days).toEqual([[[1_100n, `DEPOSIT ${slip.number}`]], [[900n, "BILL W-10001 Ostry"]], []]);
});
