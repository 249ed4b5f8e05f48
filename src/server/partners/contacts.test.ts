import { beforeAll, expect, test } from "vitest";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { contactsTable, readTable, tableFile } from "../files";
import { listContacts, loadContacts, saveContacts, savePartner } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const load = async (rows: Record<string, string>[], take = true) =>
  loadContacts(await clerk(), { rows, take });
const contacts = async () =>
  must(await listContacts(await clerk(), {})).map((c) => `${c.code} ${c.name} ${c.role}`.trim());

beforeAll(async () => {
  const root = await callerOf(w.database, "root");
  for (const code of ["FEN", "SAB"])
    must(await savePartner(root, { code, name: code, customer: true, country: "IE" }));
  must(await savePartner(root, { code: "SUP", name: "Supplier", supplier: true, country: "IE" }));
  must(await saveContacts(await clerk(), { partner: "FEN", contacts: [{ name: "Old Hand" }] }));
});

test("a table is all that there is of the customers it names, and of no other", async () => {
  const rows: Record<string, string>[] = [
    { code: "FEN", name: "Ruth Amsel", role: "accounts", telephone: "+353 1 555 0100" },
    { code: "SAB", name: "Ola Quist", email: "ola@sable.example", language: "de" },
    { code: "FEN", name: "Tam Reed" },
  ];
  expect(must(await load(rows, false))).toEqual({ added: 1, changed: 1, same: 0 });
  expect(await contacts()).toEqual(["FEN Old Hand"]);
  must(await load(rows));
  expect(await contacts()).toEqual(["FEN Ruth Amsel accounts", "FEN Tam Reed", "SAB Ola Quist"]);
  must(await load([{ code: "SAB", name: "Ines Roe" }]));
  expect(await contacts()).toEqual(["FEN Ruth Amsel accounts", "FEN Tam Reed", "SAB Ines Roe"]);
});

test("what goes out comes in again as the same", async () => {
  const table = contactsTable(must(await listContacts(await clerk(), {})));
  for (const format of ["csv", "xlsx"] as const) {
    const file = new Uint8Array(await (await tableFile(table, format)).arrayBuffer());
    const rows = must(await readTable(`contacts.${format}`, file));
    expect(must(await load(rows))).toEqual({ added: 0, changed: 0, same: 2 });
  }
});

test("faults are told with their rows, and nothing is kept; another area's people may not", async () => {
  const before = await contacts();
  const wrong = await load([
    { code: "FEN", name: "Fine" },
    { code: "SUP", name: "No customer" },
    { code: "", name: "Nobody’s" },
    { code: "SAB", name: "", email: "x" },
  ]);
  const said = wrong.ok ? [] : wrong.problems.map((p) => ("what" in p ? p.what : ""));
  expect(said.map((s) => /^[^:]*/.exec(s)![0])).toEqual([
    "Row 3",
    "Row 4",
    "Row 5, name",
    "Row 5, email",
  ]);
  expect(await contacts()).toEqual(before);
  expect(codes(await load([]))).toEqual(["INVALID"]);
  const buyer = await callerOf(w.database, "payables");
  expect(codes(await listContacts(buyer, {}))).toEqual(["FORBIDDEN"]);
});
