import { expect, test } from "vitest";
import { describeFound } from "@/core/shared";
import { callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { partnersTable, readTable, tableFile } from "../files";
import { columnsOfDimensions } from "./partnerTable";
import {
  addPartnerBank,
  getPartner,
  listPartners,
  loadPartners,
  partnerTable,
  savePartner,
} from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const customers = async () => must(await listPartners(await root(), { role: "customer" }));
const load = async (rows: Record<string, string>[]) =>
  must(await loadPartners(await root(), { rows, role: "customer", take: true }));

test("every column of a file is read, and what goes out comes in again as the same", async () => {
  must(
    await savePartner(await root(), {
      code: "FEN",
      name: "+Fennick & Co",
      customer: true,
      country: "IE",
      grade: "B",
    }),
  );
  const text =
    "Code,taxNumber,CREDITLIMIT,creditCurrency,deliveryCity\r\nFEN,IE1234567T,5000,EUR,Cork";
  const rows = must(await readTable("customers.csv", new TextEncoder().encode(text)));
  expect(await load(rows)).toEqual({ added: 0, changed: 1, same: 0 });
  const [fen] = (await customers()).filter((c) => c.code === "FEN");
  expect(fen).toMatchObject({
    name: "+Fennick & Co",
    taxNumber: "IE1234567T",
    creditLimit: "5000.00",
    creditCurrency: "EUR",
    deliveryCity: "Cork",
    grade: "B",
  });
  for (const format of ["csv", "xlsx"] as const) {
    const table = partnersTable(must(await partnerTable(await root(), { role: "customer" })));
    const file = new Uint8Array(await (await tableFile(table, format)).arrayBuffer());
    const again = must(await readTable(`customers.${format}`, file));
    expect(await load(again)).toEqual({ added: 0, changed: 0, same: table.rows.length });
  }
});

test("a dimension that is called like a column of ours takes no cell of it", () =>
  expect(
    columnsOfDimensions([{ code: "costCentre" }, { code: "Purpose" }, { code: "iban" }]),
  ).toEqual(["costCentre"]));

test("blocks, coding and bank account come with a file; a new account waits for a second person", async () => {
  const row = {
    code: "HAV",
    name: "Havnekontoret",
    blocks: "orders; reminders",
    blockReason: "in liquidation",
    costCentre: "HARB",
    IBAN: "DE02 1203 0000 0000 2020 51",
    accountHolder: "Havn A/S",
  };
  const refused = await loadPartners(await root(), {
    rows: [
      { ...row, IBAN: "DE03 1203 0000 0000 2020 51" },
      { ...row, code: "HAW", blocks: "all" },
      { code: "HAX", name: "Havn", accountHolder: "Havn A/S" },
    ],
    role: "customer",
  });
  expect(refused.ok ? [] : refused.problems.map(describeFound)).toEqual([
    expect.stringMatching(/^Row 2: .*IBAN/),
    expect.stringMatching(/^Row 3, blocks: /),
    expect.stringMatching(/^Row 4: The IBAN is missing/),
  ]);
  expect(await load([row])).toEqual({ added: 1, changed: 0, same: 0 });
  const view = async () => must(await getPartner(await root(), { code: "HAV" }));
  expect(await view()).toMatchObject({
    blocks: ["orders", "reminders"],
    dimensions: { costCentre: "HARB" },
    bank: "waiting",
    banks: [{ iban: "DE02120300000000202051", holder: "Havn A/S", state: "waiting" }],
  });
  expect(await load([row])).toEqual({ added: 0, changed: 0, same: 1 });
  const other = { code: "HAV", name: "Havnekontoret", iban: "DE02 5001 0517 0137 0750 30" };
  expect(await load([other])).toEqual({ added: 0, changed: 1, same: 0 });
  expect((await view()).banks).toHaveLength(2);
  expect((await view()).version).toBe(1);
});

test("a supplier that comes with a file of customers is both from then on", async () => {
  must(await savePartner(await root(), { code: "BOT", name: "Both", supplier: true }));
  must(await addPartnerBank(await root(), { partner: "BOT", iban: "DE02120300000000202051" }));
  expect(await load([{ code: "BOT" }])).toEqual({ added: 0, changed: 1, same: 0 });
  const [both] = (await customers()).filter((c) => c.code === "BOT");
  expect(both).toMatchObject({ supplier: true, customer: true, bank: "waiting" });
});
