import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { callerOf, codes, must, BANK_OF_ALPHA } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount } from "../banks";
import { verify } from "../verify";
import { switchPeriods } from "../organisation";
import { savePartner } from "../partners";
import { cancelInvoice, checkInvoice, createInvoice, makePayment } from "../payables";
import { openItems } from "../openItems";
import { declareTaxes, saveTaxCode, taxSummary, withdrawDeclaration } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const paper = (number: string, date: string, more: object = {}) => ({
  company: "ALP",
  supplier: "TAXED",
  number,
  date,
  lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net: "100.00", taxCode: "HALF" }],
  ...more,
});
const bill = async (number: string, date: string, more: object = {}) =>
  createInvoice(await clerk(), { ...paper(number, date, more), post: true });
const month = async (no: string, company = "ALP") => {
  const last = new Date(Date.UTC(2026, Number(no), 0)).getUTCDate();
  return must(
    await taxSummary(await root(), {
      company,
      from: `2026-${no}-01`,
      to: `2026-${no}-${last}`,
    }),
  );
};
const taxIn = async (no: string) => (await month(no)).totals.map((t) => [t.returnLine, t.tax]);
const close = async (periods: string[], to: "open" | "closed", company = "ALP") =>
  must(
    await switchPeriods(await root(), {
      company,
      book: "all",
      area: "payables",
      periods,
      to,
      reason: "taxes",
    }),
  );

beforeAll(async () => {
  for (const [code, recoverable, returnLine] of [
    ["HALF", "50", "T2"],
    ["FULL", "100", "T2"],
  ])
    must(
      await saveTaxCode(await root(), {
        code,
        name: `Recoverable at ${recoverable}`,
        kind: "standard",
        account: "1410",
        recoverable,
        returnLine,
        rates: [{ from: "2020-01-01", percent: "23" }],
      }),
    );
  must(
    await savePartner(await clerk(), {
      code: "TAXED",
      name: "Rope Works of Anvik",
      supplier: true,
      country: "IE",
    }),
  );
  must(await saveBankAccount(await root(), BANK_OF_ALPHA));
});

test("a late invoice leaves the closed month's taxes as they are, says where its tax goes, and takes a chosen period", async () => {
  must(await bill("A-1", "2026-06-05"));
  must(
    await bill("A-2", "2026-06-06", {
      lines: [
        { account: "6310", dimensions: { costCentre: "HARB" }, net: "200.00", taxCode: "FULL" },
      ],
    }),
  );
  const june = await month("06");
  expect(june.rows.map((r) => [r.code, r.tax, r.recoverable, r.unrecoverable])).toEqual([
    ["FULL", 4600n, 4600n, 0n],
    ["HALF", 2300n, 1150n, 1150n],
  ]);
  expect(june.totals).toEqual([
    {
      direction: "purchase",
      returnLine: "T2",
      base: 30000n,
      tax: 6900n,
      recoverable: 5750n,
      unrecoverable: 1150n,
    },
  ]);
  await close(["2026-06", "2026-07"], "closed");
  const late = paper("A-3", "2026-06-20", { postingDate: "2026-08-03" });
  expect(must(await checkInvoice(await clerk(), late)).taxNote).toBe(
    "Its date lies in Jun 2026, which is closed: its tax is reported in Aug 2026.",
  );
  must(await createInvoice(await clerk(), { ...late, post: true }));
  expect([await taxIn("06"), await taxIn("08")]).toEqual([[["T2", 6900n]], [["T2", 2300n]]]);
  // Chosen: a later month, or a closed one that is not declared; never one before its day.
  must(await bill("A-4", "2026-06-21", { postingDate: "2026-08-03", taxPeriod: "2026-09" }));
  must(await bill("A-5", "2026-06-21", { postingDate: "2026-08-03", taxPeriod: "2026-07" }));
  expect([await taxIn("07"), await taxIn("09")]).toEqual([[["T2", 2300n]], [["T2", 2300n]]]);
  for (const taxPeriod of ["2026-05", "2026-13", "June", "2031-01"])
    expect(
      must(
        await checkInvoice(await clerk(), paper("A-6", "2026-06-22", { taxPeriod })),
      ).problems.map((p) => [p.code, p.field]),
      taxPeriod,
    ).toContainEqual(["INVALID", "taxPeriod"]);
  await close(["2026-06", "2026-07"], "open");
});

test("a declared stretch stays as declared, whatever comes, and can be withdrawn with a reason", async () => {
  const quarter = { company: "ALP", from: "2026-07-01", to: "2026-09-30" };
  const other = await month("08", "BET");
  for (const [bad, code] of [
    [{ from: "2026-07-02" }, "INVALID"],
    [{ to: "2026-09-29" }, "INVALID"],
    [{ from: "2026-10-01" }, "INVALID"],
    [{ to: "2026-11-30" }, "INVALID"],
    [{ to: "soon" }, "DATE_INVALID"],
    [{ company: "NIX" }, "COMPANY_UNKNOWN"],
  ] as const)
    expect(codes(await declareTaxes(await root(), { ...quarter, ...bad })), code).toEqual([code]);
  expect(codes(await declareTaxes(await clerk(), quarter))).toEqual(["FORBIDDEN"]);
  const invoice = must(await bill("B-1", "2026-08-10"));
  const discounted = must(await bill("B-2", "2026-08-10"));
  const made = must(await declareTaxes(await root(), { ...quarter, reference: "Q3" }));
  const before = [await taxIn("07"), await taxIn("08"), await taxIn("09")];
  expect(codes(await declareTaxes(await root(), { ...quarter, from: "2026-09-01" }))).toEqual([
    "IN_USE",
  ]);
  // Open in the ledger, but declared: an invoice, a cancelled one, a discount.
  must(await bill("B-3", "2026-08-11"));
  expect(
    must(
      await checkInvoice(await clerk(), paper("B-4", "2026-08-11", { taxPeriod: "2026-09" })),
    ).problems.map((p) => p.field),
  ).toContain("taxPeriod");
  must(await cancelInvoice(await root(), { id: invoice.id, reason: "not ours" }));
  const [item] = must(
    await openItems(await root(), { company: "ALP", area: "payables", on: "2026-10-31" }),
  ).filter((i) => i.documentId === discounted.id);
  must(
    await makePayment(await clerk(), {
      company: "ALP",
      bank: "MAIN",
      supplier: "TAXED",
      date: "2026-09-10",
      items: [{ id: item!.id, amount: "120.00", discount: "3.00" }],
    }),
  );
  expect([await taxIn("07"), await taxIn("08"), await taxIn("09")]).toEqual(before);
  expect((await month("08")).declared).toMatchObject([
    { id: made.id, reference: "Q3", from: "2026-07-01", to: "2026-09-30", agrees: true },
  ]);
  expect(await month("08", "BET")).toEqual(other);
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  await expect(
    w.database.db.execute(sql`update tax_declaration set reference = 'Q4' where id = ${made.id}`),
  ).rejects.toThrow();
  expect(codes(await withdrawDeclaration(await clerk(), { id: made.id, reason: "x" }))).toEqual([
    "FORBIDDEN",
  ]);
  must(await withdrawDeclaration(await root(), { id: made.id, reason: "handed in anew" }));
  expect(codes(await withdrawDeclaration(await root(), { id: made.id, reason: "x" }))).toEqual([
    "IN_USE",
  ]);
  must(await bill("B-5", "2026-09-11"));
  expect(await taxIn("09")).not.toEqual(before[2]);
});

test("verify names a record that says another tax than was posted", async () => {
  const change = sql`update tax_record set recoverable = recoverable + 1
    where id = (select min(id) from tax_record)`;
  await expect(w.database.db.execute(change)).rejects.toThrow();
  // As somebody who is above the guards.
  await w.database.db.transaction(async (tx) => {
    await tx.execute(sql`alter table tax_record disable trigger user`);
    await tx.execute(change);
    await tx.execute(sql`alter table tax_record enable trigger user`);
  });
  const check = (await verify(w.database.db)).find((c) => c.name.startsWith("Taxes recorded"))!;
  expect(check.faults).toHaveLength(1);
});
