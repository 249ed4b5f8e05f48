import { beforeAll, expect, test } from "vitest";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { verify } from "../verify";
import { openItems } from "../openItems";
import { savePartner, saveTerms } from "../partners";
import { saveTaxCode } from "../taxes";
import {
  cancelInvoice,
  checkInvoice,
  correctableInvoices,
  createInvoice,
  getInvoice,
} from "./index";
import { discountOn } from "@/core/openItems";

const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const paper = (number: string, net: string, more: object = {}) => ({
  company: "ALP",
  supplier: "DISC",
  number,
  date: "2026-10-02",
  lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "S" }],
  ...more,
});
const bill = async (number: string, net: string, more: object = {}) =>
  must(await createInvoice(await clerk(), { ...paper(number, net, more), post: true }));
const note = (number: string, net: string, corrects: string, more: object = {}) =>
  paper(number, net, { kind: "credit note", corrects, ...more });
const discounts = async (id: number) =>
  must(await openItems(await root(), { company: "ALP", area: "payables", on: "2026-10-31" }))
    .filter((i) => i.documentId === id)
    .map((i) => discountOn(i, "2026-10-05")?.amount ?? 0n);

beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "S",
      name: "Standard",
      kind: "standard",
      account: "1410",
      rates: [{ from: "2020-01-01", percent: "23" }],
    }),
  );
  must(
    await saveTerms(await clerk(), {
      code: "2-10-30",
      name: "2 % in 10 days, 30 net",
      terms: {
        instalments: [{ percent: "100", days: 30 }],
        discounts: [{ days: 10, percent: "2" }],
      },
    }),
  );
  for (const code of ["DISC", "ELSE"])
    must(
      await savePartner(await clerk(), {
        code,
        name: `${code} Traders`,
        supplier: true,
        country: "IE",
        terms: "2-10-30",
      }),
    );
});

test("a credit note names its invoice: its discount is of what is left, is back when the note is cancelled", async () => {
  const invoice = await bill("D-1", "1,000.00");
  expect(await discounts(invoice.id)).toEqual([2460n]);
  // By our number, or by the supplier's however it is written.
  const first = must(
    await createInvoice(await clerk(), { ...note("CN-1", "100.00", "d 1"), post: true }),
  );
  const second = must(
    await createInvoice(await clerk(), { ...note("CN-2", "150.00", invoice.number!), post: true }),
  );
  expect(await discounts(invoice.id)).toEqual([1845n]);
  expect(must(await getInvoice(await clerk(), { id: invoice.id })).correctedBy).toEqual([
    { id: first.id, number: first.number },
    { id: second.id, number: second.number },
  ]);
  expect(must(await getInvoice(await clerk(), { id: first.id })).corrects).toEqual({
    id: invoice.id,
    number: invoice.number,
  });
  // What is corrected can't be cancelled under its corrections.
  expect(codes(await cancelInvoice(await root(), { id: invoice.id, reason: "not ours" }))).toEqual([
    "IN_USE",
  ]);
  for (const { id } of [first, second])
    must(await cancelInvoice(await root(), { id, reason: "by mistake" }));
  expect(await discounts(invoice.id)).toEqual([2460n]);
  must(await cancelInvoice(await root(), { id: invoice.id, reason: "not ours" }));
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});

test("more than the invoice comes to is held; another supplier's, another currency's, none, or an invoice that corrects is refused", async () => {
  const invoice = await bill("D-2", "100.00");
  must(await createInvoice(await clerk(), { ...note("CN-3", "60.00", "D-2"), post: true }));
  const check = must(await checkInvoice(await clerk(), note("CN-4", "60.00", "D-2")));
  expect(check.holds).toEqual([
    `With it the credit notes of ${invoice.number} come to 147.60 EUR, more than its 123.00 EUR.`,
  ]);
  for (const bad of [
    note("CN-5", "1.00", "D-2", { supplier: "ELSE" }),
    note("CN-6", "1.00", "D-2", { currency: "USD", rate: "0.9" }),
    note("CN-7", "1.00", "nowhere"),
    note("CN-8", "1.00", "CN-3"),
    paper("D-3", "1.00", { corrects: "D-2" }),
  ])
    expect(
      must(await checkInvoice(await clerk(), bad)).problems.map((p) => [p.code, p.field]),
      bad.number,
    ).toContainEqual(["INVALID", "corrects"]);
  expect(
    must(await correctableInvoices(await clerk(), { company: "ALP", supplier: "DISC" })).map(
      (i) => [i.supplierNumber, i.lines.length],
    ),
  ).toEqual([["D-2", 1]]);
});
