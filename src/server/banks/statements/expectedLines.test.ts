import { expect, test, beforeAll } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, callerOf, must, STANDARD_TAX } from "../../../../tests/world";
import { saveMonthlyPayment } from "../../cash";
import { createJournal } from "../../ledger";
import { saveRecurringInvoice } from "../../payables";
import { postRun, proposeRun } from "../../runs";
import { saveTaxCode } from "../../taxes";
import { getStatementLine, saveBankAccount } from "../index";

const w = world();
const { treasury, root, lineOf, takeIn, decide, post, faults } = bankDay(w);
const seen = async (amount: bigint) =>
  must(await getStatementLine(await treasury(), { id: (await lineOf(amount)).id }));

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(await saveTaxCode(await root(), STANDARD_TAX));
});

test("pay that stands on its account is proposed to it, until it has left", async () => {
  must(await saveMonthlyPayment(await root(), { account: "2310", day: 5 }));
  must(
    await createJournal(await root(), {
      company: "ALP",
      type: "general",
      date: "2026-09-30",
      description: "Pay of September",
      post: true,
      lines: [
        { account: "1320", debit: "90.00", credit: "", dimensions: {} },
        { account: "2310", debit: "", credit: "90.00", dimensions: {} },
      ],
    }),
  );
  await takeIn(statement("1", 0n, [{ amount: -9_000n, text: "SALARIES" }]));
  const line = await seen(-9_000n);
  expect(line).toMatchObject({
    state: "to decide",
    candidates: [{ coding: { account: "2310" }, reasons: [{ what: "expected" }] }],
  });
  must(await decide(line.id, { coding: line.candidates[0]!.coding! }));
  await post();
  const next = { from: "2026-10-06", to: "2026-10-07" };
  await takeIn(statement("2", -9_000n, [{ amount: -9_000n, text: "once more" }], next));
  expect((await seen(-9_000n)).candidates).toEqual([]);
  expect(await faults()).toEqual([]);
});

test("what somebody has decided about a text is proposed for the next line of it, and said so", async () => {
  const next = { from: "2026-10-07", to: "2026-10-08" };
  await takeIn(statement("2a", -18_000n, [{ amount: 4_400n, text: "Vending Ostry 11 Oct" }], next));
  const coding = { account: "4010", dimensions: { costCentre: "HARB" }, text: "Drinks" };
  must(await decide((await lineOf(4_400n)).id, { coding }));
  await post();
  const later = { from: "2026-10-08", to: "2026-10-08" };
  await takeIn(
    statement("2b", -13_600n, [{ amount: 4_500n, text: "vending ostry 12 Nov" }], later),
  );
  expect(await seen(4_500n)).toMatchObject({
    state: "to decide",
    candidates: [{ coding, reasons: [{ what: "remembered" }] }],
  });
});

test("an invoice that comes again is proposed on its supplier's account before it is here", async () => {
  const clerk = await callerOf(w.database, "payables");
  must(
    await saveRecurringInvoice(clerk, {
      template: {
        name: "Slipway lease",
        suppliers: ["PEL"],
        rhythm: { every: 1, unit: "month", first: "2026-09-10", until: "" },
        numberPattern: "SL-{mm}",
        invoice: {
          company: "ALP",
          description: "Lease",
          lines: [
            { account: "7450", dimensions: { costCentre: "HARB" }, net: "500.00", taxCode: "S" },
          ],
        },
      },
    }),
  );
  const params = { company: "ALP", upTo: "2026-09-30" };
  const run = must(await proposeRun(clerk, { kind: "recurring-invoice", params }));
  must(await postRun(clerk, { key: String(run.id) }));
  const next = { from: "2026-10-08", to: "2026-10-09" };
  const party = { name: "Pelling Marine Fuels", account: "", bic: "" };
  await takeIn(statement("3", -9_100n, [{ amount: -61_500n, party }, { amount: -61_501n }], next));
  const line = await seen(-61_500n);
  expect(line.candidates).toMatchObject([{ onAccount: true, partner: "PEL" }]);
  expect((await seen(-61_501n)).candidates).toEqual([]);
  must(await decide(line.id, { onAccount: true, partner: "PEL" }));
  await post();
  expect(await faults()).toEqual([]);
});
