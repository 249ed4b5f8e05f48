import { beforeAll, expect, test } from "vitest";
import { minor, ok } from "@/core/shared";
import { callerOf, codes, must, runAs } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { postDrafts, reverseJournals } from "../ledger";
import { checkInvoice } from "../payables";
import { verify } from "../verify";
import { listTaxCodes, recordTaxes, saveTaxCode, taxSummary, type TaxToRecord } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const rates = [{ from: "2020-01-01", percent: "20" }];
const OUTPUT = { code: "OUT20", name: "On sales", direction: "sale", kind: "standard", rates };
const faults = async () => (await verify(w.database.db)).flatMap((c) => c.faults);
const october = async () =>
  must(await taxSummary(await root(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }));

/** Books a sale of 100.00 with tax as an invoice to a customer would. */
const sell = async (tax: bigint) =>
  must(
    await runAs(await root(), async (context) => {
      const line = { dimensions: {}, description: "" };
      const posted = await postDrafts(context, [
        {
          company: "ALP",
          type: "sales",
          book: null,
          date: "2026-10-05",
          description: "A sale",
          lines: [
            { ...line, account: "1460", side: "debit", amount: minor(12_000n) },
            {
              ...line,
              account: "4110",
              dimensions: { costCentre: "HARB" },
              side: "credit",
              amount: minor(10_000n),
            },
            { ...line, account: "2210", side: "credit", amount: minor(2_000n) },
          ],
        },
      ]);
      if (!posted.ok) return posted;
      const { id, seq } = posted.value[0]!;
      const recorded: TaxToRecord = {
        code: "OUT20",
        percent: "20",
        from: "2020-01-01",
        base: minor(10_000n),
        tax: minor(tax),
        recoverable: minor(0n),
        returnLine: "S1",
      };
      await recordTaxes(context.tx, [
        {
          document: {
            id,
            companyId: context.masters.companyByCode.get("ALP")!.id,
            direction: "sale",
            journal: { id, seq },
            date: "2026-10-05",
            reportedOn: null,
            currency: "EUR",
            sign: 1n,
            functional: (amount) => amount,
          },
          taxes: [recorded],
        },
      ]);
      return ok(id);
    }),
  );

beforeAll(async () => {
  must(await saveTaxCode(await root(), { ...OUTPUT, owedAccount: "2210", returnLine: "S1" }));
});

test("a code needs the accounts of its direction and kind, and keeps its direction once it is used", async () => {
  const save = async (more: object) =>
    codes(await saveTaxCode(await root(), { ...OUTPUT, code: "NEW", ...more }));
  expect(await save({})).toEqual(["REQUIRED"]);
  expect(await save({ kind: "withheld" })).toEqual(["REQUIRED"]);
  expect(await save({ kind: "withheld", account: "1410" })).toEqual([]);
  // The buyer owes it: it is booked nowhere.
  expect(await save({ kind: "reverse" })).toEqual([]);
  // The usual rate is 20: nothing is charged under a code without tax.
  expect(await save({ code: "NIL", kind: "none" })).toEqual(["INVALID"]);
  const nil = [{ from: "2020-01-01", percent: "0.0" }];
  expect(await save({ code: "NIL", kind: "none", rates: nil })).toEqual([]);
  expect(await save({ direction: "purchase", kind: "reverse", account: "1410" })).toEqual([
    "REQUIRED",
  ]);
  await sell(2_000n);
  expect(
    codes(await saveTaxCode(await root(), { ...OUTPUT, direction: "purchase", account: "1410" })),
  ).toEqual(["IN_USE"]);
});

test("taxes on sales are summed apart, stand against their account, and are taken back", async () => {
  const before = await october();
  const sale = await sell(2_000n);
  const after = await october();
  const own = (s: typeof after) => s.totals.find((t) => t.direction === "sale");
  expect(own(after)).toMatchObject({
    returnLine: "S1",
    base: own(before)!.base + 10_000n,
    tax: own(before)!.tax + 2_000n,
    recoverable: 0n,
    unrecoverable: 0n,
  });
  expect(after.accounts.map((a) => [a.account, a.agrees])).toEqual([["2210", true]]);
  must(await runAs(await root(), (context) => reverseJournals(context, [sale], null)));
  expect(own(await october())).toEqual(own(before));
  expect(await faults()).toEqual([]);
});

test("a record that says another tax than its journal posts is found", async () => {
  await sell(1_999n);
  expect((await faults()).join()).toContain(
    "account 2210 EUR posts -2000 and its records say -1999",
  );
});

test("papers of suppliers take codes of purchases only", async () => {
  const listed = async (direction: string) =>
    must(await listTaxCodes(await root(), { direction })).map((t) => t.code);
  expect(await listed("sale")).toContain("OUT20");
  expect(await listed("purchase")).not.toContain("OUT20");
  const checked = must(
    await checkInvoice(await callerOf(w.database, "payables"), {
      company: "ALP",
      supplier: "PEL",
      number: "X-1",
      date: "2026-10-05",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net: "10", taxCode: "OUT20" }],
    }),
  );
  expect(checked.problems.map((p) => p.code)).toContain("TAX_UNKNOWN");
});
