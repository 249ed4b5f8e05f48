import { beforeAll, expect, test } from "vitest";
import { codes, callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { savePartner } from "../partners";
import { customerConversation, sayOfCustomer } from "../receivables";
import { find } from "./index";

const w = world();
const as = (login: string) => callerOf(w.database, login);
const found = async (login: string, text: string, place: object = { company: "ALP" }) =>
  must(await find(await as(login), { text, figure: text, ...place }));

beforeAll(async () => {
  const root = await as("root");
  const both = { code: "WREN", name: "Wren Yacht Club", city: "Ostry", country: "IE" };
  must(await savePartner(root, { ...both, customer: true, supplier: true }));
  must(
    await savePartner(root, { code: "S-9", name: "Wrench & Son", supplier: true, country: "IE" }),
  );
});

test("customers and suppliers are found by whoever works with them, in the company in view", async () => {
  const wren = { kind: "Customer", label: "WREN Wren Yacht Club", note: "Ostry" };
  expect(await found("receivables", "wren")).toMatchObject([
    { ...wren, href: "/receivables/customers/WREN", about: { company: "ALP", partner: "WREN" } },
  ]);
  const bought = await found("payables", "WREN");
  expect(bought.map((f) => [f.kind, f.href, f.about])).toEqual([
    ["Supplier", "/payables/suppliers/WREN", undefined],
    ["Supplier", "/payables/suppliers/S-9", undefined],
  ]);
  expect((await found("root", "wren")).map((f) => f.kind)).toEqual(["Customer", "Supplier"]);
  expect(await found("receivables", "wren", {})).toEqual([]);
  expect(await found("receivables", "100%_")).toEqual([]);
});

test("what is noted of a customer that was found is its conversation", async () => {
  const [{ about } = { about: undefined }] = await found("receivables", "wren yacht");
  const said = { ...(about as object), text: "Pays on Friday" };
  must(await sayOfCustomer(await as("receivables"), said));
  const lines = must(await customerConversation(await as("receivables"), said));
  expect(lines).toMatchObject([{ kind: "note", text: "Pays on Friday" }]);
  expect(codes(await customerConversation(await as("payables"), said))).toEqual(["FORBIDDEN"]);
  const supplier = { company: "ALP", partner: "S-9" };
  expect(codes(await customerConversation(await as("receivables"), supplier))).toEqual([
    "PARTNER_UNKNOWN",
  ]);
});
