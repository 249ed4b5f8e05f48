import { expect, test } from "vitest";
import { callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { partnersTable, readTable, tableFile } from "../files";
import { listPartners, loadPartners, savePartner } from "./index";

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
    const table = partnersTable(await customers());
    const file = new Uint8Array(await (await tableFile(table, format)).arrayBuffer());
    const again = must(await readTable(`customers.${format}`, file));
    expect(await load(again)).toEqual({ added: 0, changed: 0, same: table.rows.length });
  }
});
