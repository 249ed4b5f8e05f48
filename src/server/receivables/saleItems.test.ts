import { beforeAll, expect, test } from "vitest";
import { saleInput, type SaleLineInput } from "@/core/receivables";
import { codes, callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { getJournal } from "../ledger";
import { deleteAccount, saveAccount, saveCompany } from "../organisation";
import { savePartner } from "../partners";
import { loadRates } from "../rates";
import { saveTaxCode } from "../taxes";
import { listPurchaseItems, listSaleItems, savePurchaseItem, saveSaleItem } from "../trade";
import { createSale, getSale, getSaleUbl, loadSales } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");
const BERTH = {
  code: "BERTH",
  name: "Visitor berth",
  unit: "night",
  account: "4130",
  dimensions: { costCentre: "HARB" },
  taxCode: "OUT",
  price: "31.00",
};
const sell = async (line: Partial<SaleLineInput>, more: object = {}) =>
  createSale(await clerk(), {
    ...saleInput({ company: "ALP", customer: "FEN", date: "2026-10-05", ...more, lines: [line] }),
    post: true,
  });
const fields = (r: { ok: boolean; problems?: readonly { field?: string }[] }) =>
  r.problems?.map((p) => p.field ?? "") ?? [];

beforeAll(async () => {
  must(
    await saveCompany(await root(), {
      code: "ALP",
      name: "Alpha Ferries",
      currency: "EUR",
      country: "DE",
      taxNumber: "DE999999999",
    }),
  );
  must(
    await saveTaxCode(await root(), {
      direction: "sale",
      owedAccount: "2210",
      returnLine: "S1",
      code: "OUT",
      name: "VAT",
      kind: "standard",
      rates: [{ from: "2020-01-01", percent: "23" }],
    }),
  );
  must(
    await savePartner(await root(), {
      code: "FEN",
      name: "Fennick Freight",
      customer: true,
      country: "DE",
      taxNumber: "DE123456789",
      street: "8 Pier",
      postcode: "20095",
      city: "Hafen",
    }),
  );
  const rate = { base: "USD", quote: "EUR", date: "2026-10-05", rate: "0.90" };
  must(await loadRates(await root(), { take: true, rows: [rate] }));
  must(await saveSaleItem(await root(), BERTH));
});

test("a program names an item and a quantity; coding, price and tax follow, and the e-invoice names it", async () => {
  const made = must(await sell({ item: "berth", quantity: "3" }));
  const view = must(await getSale(await clerk(), { id: made.id }));
  expect(view.content.lines[0]).toMatchObject({
    item: "BERTH",
    description: "Visitor berth",
    account: "4130",
    price: "31.00",
  });
  const journal = must(await getJournal(await root(), { key: view.journals[0]!.number }));
  expect(
    journal.kind === "posted" ? journal.lines.map((l) => `${l.account} ${l.side} ${l.amount}`) : [],
  ).toEqual(["4130 credit 9300", "2210 credit 2139", "1310 debit 11439"]);
  const { text } = must(await getSaleUbl(await clerk(), { id: made.id }));
  expect(text).toMatch(/<cac:SellersItemIdentification>\s*<cbc:ID>BERTH</);
});

test("its price is not that of another currency; what is unknown or blocked is said at its cell", async () => {
  const dollars = { currency: "USD" };
  expect(fields(await sell({ item: "BERTH", quantity: "3" }, dollars))).toContain("net");
  must(await sell({ item: "BERTH", quantity: "3", price: "35.00" }, dollars));
  must(await saveSaleItem(await root(), { ...BERTH, code: "BERTH-USD", currency: "USD" }));
  must(await sell({ item: "BERTH-USD", quantity: "2" }, dollars));
  expect(fields(await sell({ item: "BOAT", account: "4130", net: "5" }))).toContain("item");
  must(await saveSaleItem(await root(), { ...BERTH, code: "OLD", blocked: true }));
  expect(fields(await sell({ item: "OLD", quantity: "1" }))).toContain("item");
  const bad = await saveSaleItem(await root(), { ...BERTH, price: "cheap", currency: "XXQ" });
  expect(fields(bad)).toEqual(["price", "currency"]);
});

test("a table names items too; what is bought under the same code is another thing", async () => {
  must(
    await savePurchaseItem(await root(), {
      ...BERTH,
      name: "Berth hired",
      account: "6310",
      taxCode: "",
      price: "12.00",
    }),
  );
  const row = { invoice: "1", customer: "FEN", date: "2026-10-05", item: "BERTH", quantity: "2" };
  const load = { company: "ALP", rows: [row, { ...row, quantity: "1", price: "20" }], take: true };
  expect(must(await loadSales(await clerk(), load))).toMatchObject({ added: 1 });
  const wrong = await loadSales(await clerk(), { ...load, rows: [{ ...row, item: "BOAT" }] });
  expect(fields(wrong)).toContain("item");
});

test("who buys sees what is bought, who sells what is sold; an account that an item is coded to stays", async () => {
  const buyer = await callerOf(w.database, "payables");
  expect(must(await listPurchaseItems(buyer)).map((i) => i.name)).toContain("Berth hired");
  expect(codes(await listSaleItems(buyer))).toEqual(["FORBIDDEN"]);
  expect(codes(await saveSaleItem(buyer, BERTH))).toEqual(["FORBIDDEN"]);
  must(
    await saveAccount(await root(), {
      number: "6397",
      name: "Ice",
      type: "expense",
      heading: "63",
    }),
  );
  must(await saveSaleItem(await root(), { ...BERTH, code: "ICE", account: "6397" }));
  const kept = await deleteAccount(await root(), { number: "6397" });
  expect(kept.ok ? "" : JSON.stringify(kept.problems)).toContain("what is sold as ICE");
});
