import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must, STANDARD_TAX } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { cashFlows } from "../../cash";
import { rows } from "../../db";
import { openItems } from "../../openItems";
import { saveCompany, savePurpose } from "../../organisation";
import { savePartner } from "../../partners";
import { createInvoice, makePayment } from "../../payables";
import { saveTaxCode } from "../../taxes";
import {
  cancelDeposit,
  draftPdf,
  getDeposit,
  getPayment,
  makeDeposit,
  returnCheque,
  saveBankAccount,
  saveMovementKind,
} from "../index";

const w = world();
const { treasury, root, lines, takeIn, post, faults, owed, left } = bankDay(w);
const clerk = () => callerOf(w.database, "payables");

const make = async (parts: object[]) =>
  makeDeposit(await treasury(), { company: "ALP", bank: "MAIN", date: "2026-10-05", parts });
const bill = (item: number, more: object = {}) => ({
  kind: "bill",
  partner: "OST",
  cheque: "W-10077",
  dueDate: "2026-10-20",
  amount: "1,015.00",
  fee: "15.00",
  feeKind: "LATER",
  items: [item],
  ...more,
});
/** What the bills stand at: receivable and payable, in cents. */
const stand = async () =>
  (
    await rows<{ account: string; left: bigint }>(
      w.database.db,
      sql`select a.number as account, sum(i.left_amount)::bigint as "left"
        from open_item i join account a on a.id = i.account_id
        where a.number in ('1330', '2130') and i.left_amount <> 0 group by 1 order by 1`,
    )
  ).map((r) => [r.account, r.left]);
/** Whether a paper is an original, or carries the mark of a copy. */
const printed = async (input: object, by = treasury) => draftPdf(await by(), input);

let first: { item: number };
let slip: { id: number; number: string };

beforeAll(async () => {
  must(
    await savePartner(await root(), {
      code: "OST",
      name: "Ostry Council",
      customer: true,
      country: "IE",
    }),
  );
  must(
    await savePartner(await root(), {
      code: "SHIP",
      name: "Corrow Shipyard",
      supplier: true,
      country: "IE",
    }),
  );
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      overdraft: "0",
      refuse: true,
      iban: IBAN,
    }),
  );
  must(
    await saveMovementKind(await root(), {
      code: "LATER",
      name: "Paid later",
      side: "in",
      account: "4010",
      dimensions: { costCentre: "HARB" },
    }),
  );
  must(await saveTaxCode(await root(), STANDARD_TAX));
  first = await owed("R-1", "1,000.00", "OST");
});

test("without an account for bills nothing is taken in by one", async () => {
  const purpose = { purpose: "billsReceivable", account: "1330" };
  await w.database.db.execute(sql`delete from setting where key = 'account.billsReceivable'`);
  expect(codes(await make([bill(first.item)]))).toEqual(["PURPOSE_MISSING"]);
  expect(codes(await savePurpose(await root(), { ...purpose, account: "4010" }))).toEqual([
    "INVALID",
  ]);
  must(await savePurpose(await root(), purpose));
});

test("what is wrong of a bill is said at its place", async () => {
  const refused = await make([
    bill(first.item, { dueDate: "2026-10-04", fee: "1,015.00" }),
    bill(first.item, { dueDate: "2026-02-30", items: [], feeKind: "NONE" }),
  ]);
  expect(
    refused.ok ? [] : refused.problems.map((p) => [p.code, (p as { field?: string }).field]),
  ).toEqual([
    ["INVALID", "parts.0.dueDate"],
    ["INVALID", "parts.0.fee"],
    ["DATE_INVALID", "parts.1.dueDate"],
    ["INVALID", "parts.1.feeKind"],
  ]);
  expect(codes(await make([bill(first.item, { cheque: "" })]))).toEqual(["INVALID"]);
});

test("a bill settles what it is for, is receivable until its day, and is expected on it", async () => {
  slip = must(await make([bill(first.item)]));
  expect([await left(first.item), await stand()]).toEqual([0n, [["1330", 101_500n]]]);
  expect(await faults()).toEqual([]);
  const { flows } = must(
    await cashFlows(await treasury(), { company: "ALP", by: "day", all: false, to: "2026-10-20" }),
  );
  expect(flows.filter((f) => f.partner === "OST")).toMatchObject([
    { usual: "2026-10-20", amount: 101_500n, why: "A bill or note that is due 20 Oct 2026" },
  ]);
  const closing = { ...BANK_OF_ALPHA, iban: IBAN, closedOn: "2026-10-06", version: 1 };
  const open = await saveBankAccount(await root(), closing);
  expect(open.ok ? "" : JSON.stringify(open.problems)).toContain("under way");
});

test("it is printed once; what comes out later is a copy, and the customer's own note is not ours to print", async () => {
  const prints = async () =>
    (
      await rows<{ prints: number }>(
        w.database.db,
        sql`select prints from draft_print where document_id = ${slip.id}`,
      )
    ).map((r) => r.prints);
  // The law wants the place on it, and nobody has said it yet: nothing is printed, or counted.
  const company = { code: "ALP", name: "Alpha Ferries", currency: "EUR", country: "DE" };
  const refused = await printed({ id: slip.id, no: 1 });
  expect(refused.ok ? "" : JSON.stringify(refused.problems)).toContain("give Alpha Ferries a town");
  expect(await prints()).toEqual([]);
  must(await saveCompany(await root(), { ...company, city: "Ostry" }));
  must(await printed({ id: slip.id, no: 1 }));
  must(await printed({ id: slip.id, no: 1 }));
  expect(await prints()).toEqual([2]);
  expect(codes(await printed({ id: slip.id, no: 1 }, clerk))).toEqual(["FORBIDDEN"]);
  expect(codes(await printed({ id: slip.id, no: 2 }))).toEqual(["NOT_FOUND"]);
  const note = must(
    await make([
      bill(first.item, { kind: "note", items: [], cheque: "N-1", fee: "", amount: "5.00" }),
    ]),
  );
  expect(codes(await printed({ id: note.id, no: 1 }))).toEqual(["INVALID"]);
  must(await cancelDeposit(await treasury(), { id: note.id, reason: "by mistake" }));
  expect(await stand()).toEqual([["1330", 101_500n]]);
});

test("the bank's line clears a bill by its number, and the others stand", async () => {
  const item = await owed("R-3", "200.00", "OST");
  const paid = { cheque: "W-10079", dueDate: "2026-10-12", amount: "200.00", fee: "" };
  const { id } = must(await make([bill(item.item, paid)]));
  const line = { amount: 20_000n, text: "Bill W-10079 Ostry Council" };
  await takeIn(statement("1", 0n, [line], { from: "2026-10-05", to: "2026-10-12" }));
  expect((await lines())[0]).toMatchObject({ state: "certain" });
  await post();
  expect([await stand(), await faults()]).toEqual([[["1330", 101_500n]], []]);
  expect(must(await getDeposit(await treasury(), { id }))).toMatchObject({ cleared: true });
});

test("a bill that is not paid is noted as returned: what it had settled is open again, its fee is not earned", async () => {
  const item = await owed("R-2", "500.00", "OST");
  const { id } = must(
    await make([bill(item.item, { cheque: "W-10078", amount: "510.00", fee: "10.00" })]),
  );
  const input = { id, no: 1, date: "2026-10-14", reason: "not accepted" };
  must(await returnCheque(await treasury(), input));
  expect([await left(item.item), await stand(), await faults()]).toEqual([
    50_000n,
    [["1330", 101_500n]],
    [],
  ]);
  const [fee] = await rows<{ left: bigint }>(
    w.database.db,
    sql`select coalesce(sum(case when l.side = 'D' then l.amount else -l.amount end), 0)::bigint
        as "left" from journal_line l join account a on a.id = l.account_id
      where a.number = '4010' and l.description like 'Fee for paying later%'
        and l.amount = 1000`,
  );
  expect(fee).toEqual({ left: 0n });
});

test("a note of ours settles the supplier at once and no bank is asked; its own bank pays it on its day", async () => {
  must(
    await createInvoice(await clerk(), {
      company: "ALP",
      supplier: "SHIP",
      number: "S-1",
      date: "2026-10-01",
      lines: [
        { account: "6310", dimensions: { costCentre: "HARB" }, net: "2,000.00", taxCode: "S" },
      ],
      post: true,
    }),
  );
  const [item] = must(
    await openItems(await clerk(), {
      company: "ALP",
      area: "payables",
      on: "2026-10-31",
      partner: "SHIP",
    }),
  );
  const pays = {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-05",
    supplier: "SHIP",
    items: [{ id: item!.id, amount: "2,460.00" }],
  };
  // The account holds 200.00 and may not be overdrawn.
  expect(codes(await makePayment(await clerk(), pays))).toEqual(["RUN_STANDS_IN_WAY"]);
  expect(codes(await makePayment(await clerk(), { ...pays, method: "note" }))).toEqual(["INVALID"]);
  const early = { ...pays, method: "note", dueDate: "2026-10-04" };
  expect(codes(await makePayment(await clerk(), early))).toEqual(["INVALID"]);
  const note = must(
    await makePayment(await clerk(), { ...pays, method: "note", dueDate: "2026-10-14" }),
  );
  expect([await stand(), await faults()]).toEqual([
    [
      ["1330", 101_500n],
      ["2130", -246_000n],
    ],
    [],
  ]);
  must(await printed({ id: note.id }, clerk));
  await takeIn(
    statement("2", 20_000n, [{ amount: -246_000n, text: `Note ${note.number}`, code: "" }], {
      from: "2026-10-12",
      to: "2026-10-14",
    }),
  );
  await post();
  expect(must(await getPayment(await clerk(), { id: note.id }))).toMatchObject({
    status: "cleared",
  });
  expect([await stand(), await faults()]).toEqual([[["1330", 101_500n]], []]);
});
