import { beforeAll, expect, test } from "vitest";
import { minor } from "@/core/shared";
import { saleInput } from "@/core/receivables";
import { bankDay, IBAN, statement } from "../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { getStatementLine, saveBankAccount } from "../banks";
import { getJournal } from "../ledger";
import { savePartner, saveTerms } from "../partners";
import { reverseRun } from "../runs";
import { saveTaxCode, taxSummary } from "../taxes";
import { openItems } from "../openItems";
import { createSale } from "./index";

const w = world();
const day = bankDay(w);
const clerk = () => callerOf(w.database, "receivables");
/** What is declared of October, by code: base and tax. */
const october = async () =>
  must(
    await taxSummary(await day.root(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
  ).rows.map((r) => [r.code, r.base, r.tax]);

beforeAll(async () => {
  const root = await day.root();
  must(await saveBankAccount(root, { ...BANK_OF_ALPHA, iban: IBAN }));
  const code = { direction: "sale", owedAccount: "2210", returnLine: "S1" };
  const rates = (percent: string) => ({ rates: [{ from: "2020-01-01", percent }] });
  must(
    await saveTaxCode(root, {
      ...code,
      code: "OUT",
      name: "VAT",
      kind: "standard",
      ...rates("23"),
    }),
  );
  must(
    await saveTaxCode(root, { ...code, code: "RC", name: "RC", kind: "reverse", ...rates("23") }),
  );
  must(
    await saveTerms(await clerk(), {
      code: "2-10-30",
      name: "2 % within 10 days",
      terms: {
        instalments: [{ percent: "100", days: 30 }],
        discounts: [{ percent: "2", days: 10 }],
      },
    }),
  );
  must(
    await savePartner(root, {
      code: "FEN",
      name: "Fennick Freight",
      customer: true,
      country: "DE",
      taxNumber: "DE123456789",
      terms: "2-10-30",
    }),
  );
});

test("a discount that a customer takes gives back its part of the output tax, and a reversal takes that back", async () => {
  const line = (taxCode: string, net: string) => ({
    account: "4130",
    dimensions: { costCentre: "HARB" },
    description: "Berth",
    net,
    taxCode,
  });
  const lines = [line("OUT", "1,000.00"), line("RC", "500.00")];
  const { number } = must(
    await createSale(await clerk(), {
      ...saleInput({ company: "ALP", customer: "FEN", date: "2026-10-02", lines }),
      post: true,
    }),
  );
  const before = await october();
  const [item] = must(
    await openItems(await clerk(), {
      company: "ALP",
      area: "receivables",
      partner: "FEN",
      on: "2026-10-15",
    }),
  );
  // 2 % of 1,730.00: of it 20.00 are net of the first line, 4.60 its tax, 10.00 of the second.
  await day.takeIn(statement("1", 0n, [{ amount: 169_540n, text: number! }]));
  const { id } = await day.lineOf(169_540n);
  must(
    await day.decide(id, {
      takes: [{ item: item!.id, amount: "1730.00", discount: "34.60" }],
    }),
  );
  const run = await day.post();
  const { journal } = must(await getStatementLine(await day.treasury(), { id }));
  const view = must(await getJournal(await day.root(), { key: String(journal!.id) }));
  expect(
    view.kind === "posted"
      ? view.lines.map((l) => `${l.account} ${l.side} ${l.amount}`).sort()
      : [],
  ).toEqual(["1110 debit 169540", "1310 credit 173000", "2210 debit 460", "8570 debit 3000"]);
  expect(await october()).toEqual([
    ["OUT", minor(98_000n), minor(22_540n)],
    ["RC", minor(49_000n), minor(11_270n)],
  ]);
  expect(await day.faults()).toEqual([]);
  must(await reverseRun(await day.root(), { key: String(run.id), reason: "wrong item" }));
  expect(await october()).toEqual(before);
  expect(await day.faults()).toEqual([]);
});
