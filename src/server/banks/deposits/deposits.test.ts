import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { chainColumns } from "@/core/documents";
import { NO_KEYS } from "@/core/banks/statements";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { saveApprovalRule } from "../../approvals";
import { documentChain } from "../../documents";
import { savePartner } from "../../partners";
import {
  cancelDeposit,
  getDeposit,
  getStatementLine,
  listDeposits,
  loadCardPayments,
  makeDeposit,
  returnCheque,
  saveBankAccount,
  saveMovementKind,
} from "../index";

const w = world();
const { treasury, root, lines, takeIn, post, faults, owed, left } = bankDay(w);

let first: { journal: number; item: number };
let second: { journal: number; item: number };
let slip: { id: number; number: string };

beforeAll(async () => {
  for (const [code, name] of [
    ["OST", "Ostry Council"],
    ["SAB", "Sable Tours"],
  ] as const)
    must(await savePartner(await root(), { code, name, customer: true, country: "IE" }));
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await saveMovementKind(await root(), {
      code: "CHARGE",
      name: "Bank charges",
      side: "out",
      account: "7450",
      dimensions: { costCentre: "HARB" },
    }),
  );
  first = await owed("R-1", "600.00", "OST");
  second = await owed("R-2", "300.00", "SAB");
});

const part = (more: object = {}) => ({
  kind: "cheque",
  partner: "OST",
  cheque: "100100",
  amount: "600.00",
  items: [first.item],
  ...more,
});
const make = async (parts: object[], more: object = {}) =>
  makeDeposit(await treasury(), {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-05",
    parts,
    ...more,
  });

test("a slip pays the customers' items at once, and its money is under way", async () => {
  slip = must(
    await make([
      part(),
      part({ partner: "SAB", cheque: "2002", amount: "300.00", items: [second.item] }),
      part({ kind: "cash", cheque: "", partner: "SAB", amount: "50.00", items: [] }),
    ]),
  );
  expect([await left(first.item), await left(second.item)]).toEqual([0n, 0n]);
  const view = must(await getDeposit(await treasury(), { id: slip.id }));
  expect(view).toMatchObject({ amount: 95_000n, underWay: 95_000n, status: "posted" });
  expect(view.of.map((p) => p.pays)).toEqual([["R-1"], ["R-2"], []]);
  expect(await faults()).toEqual([]);
});

test("everything that is wrong is said at its place, and nothing of it is kept", async () => {
  const other = must(await make([part({ items: [], amount: "1.00", cheque: "9" })]));
  must(await cancelDeposit(await treasury(), { id: other.id, reason: "by mistake" }));
  const refused = await make([
    part({ partner: "NOBODY", amount: "x", items: [] }),
    part({ items: [first.item] }),
    part({ cheque: "" }),
  ]);
  expect(codes(refused)).toEqual(["INVALID"]);
  const more = await make([
    part({ partner: "NOBODY", amount: "x", items: [] }),
    part({ items: [first.item] }),
  ]);
  expect(
    more.ok ? [] : more.problems.map((p) => [p.code, (p as { field?: string }).field]),
  ).toEqual([
    ["PARTNER_UNKNOWN", "parts.0.partner"],
    ["AMOUNT_NOT_NUMBER", "parts.0.amount"],
    ["INVALID", "parts.1.items"],
  ]);
  expect(codes(await make([part({ items: [] })], { date: "2031-01-01" }))).toEqual([
    "PERIOD_MISSING",
  ]);
});

test("nothing goes to an account from the day on which it is closed", async () => {
  const account = { ...BANK_OF_ALPHA, code: "GONE", account: "1111" };
  must(await saveBankAccount(await root(), { ...account, closedOn: "2026-10-05" }));
  const late = await make([part({ items: [] })], { bank: "GONE" });
  expect(late.ok ? [] : late.problems).toMatchObject([
    { what: "GONE is closed from 5 Oct 2026 on", field: "bank" },
  ]);
});

test("the bank's line of the whole slip clears it by its number, and ends the chain", async () => {
  await takeIn(statement("1", 0n, [{ amount: 95_000n, text: `DEPOSIT ${slip.number}` }]));
  const [line] = await lines();
  expect(line).toMatchObject({ state: "certain" });
  await post();
  expect(must(await getDeposit(await treasury(), { id: slip.id })).underWay).toBe(0n);
  const chain = must(await documentChain(await root(), { id: first.journal }));
  expect(chainColumns(chain.documents).map((c) => [c.stage, c.documents.length])).toEqual([
    ["invoice", 1],
    ["payment", 1],
    ["bank", 1],
  ]);
  expect(await faults()).toEqual([]);
  expect(codes(await cancelDeposit(await treasury(), { id: slip.id, reason: "too late" }))).toEqual(
    ["INVALID"],
  );
});

test("one cheque of it comes back: its item is open again with the fee, the others stay paid", async () => {
  const bounce = { id: slip.id, no: 1, date: "2026-10-07", reason: "no funds" };
  expect(codes(await returnCheque(await treasury(), { ...bounce, no: 3 }))).toEqual(["NOT_FOUND"]);
  expect(codes(await returnCheque(await treasury(), { ...bounce, fee: "12.00" }))).toEqual([
    "INVALID",
  ]);
  must(await returnCheque(await treasury(), { ...bounce, fee: "12.00", kind: "CHARGE" }));
  expect([await left(first.item), await left(second.item)]).toEqual([60_000n, 0n]);
  const fee = await rows<{ left: bigint; partner: string }>(
    w.database.db,
    sql`select left_amount as "left", partner from open_item
      where reference = 'Fee for the return of Cheque 100100'`,
  );
  expect(fee).toEqual([{ left: 1_200n, partner: "OST" }]);
  expect(await faults()).toEqual([]);
  expect(codes(await returnCheque(await treasury(), bounce))).toEqual(["INVALID"]);

  // The bank takes the money back on a line of its own, which meets what the return has left.
  await takeIn(
    statement(
      "2",
      95_000n,
      [{ amount: -60_000n, text: `unpaid cheque 100100 ${slip.number}`, code: "PMNT-RCHQ-UPCQ" }],
      { from: "2026-10-06", to: "2026-10-08" },
    ),
  );
  expect((await lines()).find((l) => l.amount === -60_000n)).toMatchObject({ state: "certain" });
  await post();
  const underWay = await rows<{ left: bigint }>(
    w.database.db,
    sql`select sum(left_amount)::bigint as "left" from open_item where area = 'transit'`,
  );
  expect(underWay).toEqual([{ left: 0n }]);
  expect(await faults()).toEqual([]);
});

test("where the bank says first that a cheque comes back, its line leads to the slip, and is certain once that is noted", async () => {
  const other = must(await make([part({ cheque: "881", amount: "70.00", items: [] })]));
  await takeIn(
    statement(
      "3",
      35_000n,
      [
        { amount: 7_000n, text: other.number },
        { amount: -7_000n, text: "UNPAID", keys: { ...NO_KEYS, cheque: "881" } },
      ],
      {
        from: "2026-10-08",
        to: "2026-10-09",
      },
    ),
  );
  const line = async () => {
    const { id } = (await lines()).find((l) => l.amount === -7_000n)!;
    return must(await getStatementLine(await treasury(), { id }));
  };
  expect(await line()).toMatchObject({ slip: { id: other.id, cheque: "881" } });
  const back = { id: other.id, no: 1, date: "2026-10-09", reason: "no funds" };
  must(await returnCheque(await treasury(), back));
  expect(await line()).toMatchObject({ state: "certain", slip: null });
  await post();
  expect(await faults()).toEqual([]);
});

test("two people who note the same cheque at the same moment note it once; another company's person never", async () => {
  const other = must(
    await make([part({ cheque: "77", amount: "600.00" }), part({ cheque: "78", items: [] })]),
  );
  const both = await Promise.all(
    ["first of two", "second of two"].map(async (reason) =>
      returnCheque(await treasury(), { id: other.id, no: 1, date: "2026-10-08", reason }),
    ),
  );
  expect(both.map((b) => codes(b)).sort()).toEqual([[], ["INVALID"]]);
  expect(await left(first.item)).toBe(60_000n);
  expect(codes(await getDeposit(await callerOf(w.database, "payables"), { id: other.id }))).toEqual(
    ["FORBIDDEN"],
  );
  expect(await faults()).toEqual([]);
});

test("a settlement of card payments pays by gross, arrives by net once, and a charge-back takes the gross", async () => {
  const third = await owed("R-3", "200.00", "SAB");
  const row = (number: string, more: object = {}) => ({ number, fee: "3.00", ...more });
  const table = [
    row("T-1", { invoice: "r-3", amount: "200.00" }),
    row("T-2", { customer: "OST", amount: "50.00", fee: "" }),
  ];
  const load = async (rows: object[], more: object = {}) =>
    loadCardPayments(await treasury(), {
      ...{ company: "ALP", bank: "MAIN", date: "2026-10-08", kind: "CHARGE" },
      ...{ rows, ...more },
    });
  const said = (r: Awaited<ReturnType<typeof load>>) =>
    r.ok ? [] : r.problems.map((p) => ("what" in p ? p.what : p.code));
  const wrong = [row("T-1", { amount: "1.00" }), row("T-9", { customer: "OST", amount: "2.00" })];
  expect(said(await load(wrong))).toEqual(["Row 2: neither invoice nor customer is named"]);
  expect(said(await load([{ ...wrong[1], number: "" }]))).toEqual([
    "Row 2: the number of its transaction is missing",
  ]);
  expect(said(await load([wrong[1]!]))[0]).toBe("Row 2: A fee of 3.00 leaves nothing of 2.00.");
  must(await load(table));
  expect(await left(third.item)).toBe(20_000n);
  must(await load(table, { take: true }));
  expect(await left(third.item)).toBe(0n);
  expect(said(await load(table))[0]).toMatch(/^Row 2: T-1 is on .* already/);
  const mixed = await make([
    part({ kind: "card", cheque: "T-5", amount: "5.00", items: [] }),
    part({ cheque: "9", amount: "5.00", items: [] }),
  ]);
  expect(said(mixed as never)).toEqual([
    "Card payments are settled apart from what is taken to the bank",
  ]);
  const [settlement] = must(await listDeposits(await treasury(), { company: "ALP" }));
  expect(settlement).toMatchObject({ amount: 24_700n, underWay: 24_700n });
  const opening = (await lines()).reduce((t, l) => t + l.amount, 0n);
  const days = { from: "2026-10-09", to: "2026-10-10" };
  const came = [{ amount: 24_700n, text: `CARDS ${settlement!.number}` }];
  await takeIn(statement("8", opening, came, days));
  expect((await lines()).find((l) => l.amount === 24_700n)).toMatchObject({ state: "certain" });
  await post();
  must(
    await returnCheque(await treasury(), {
      ...{ id: settlement!.id, no: 1, date: "2026-10-09", reason: "cardholder disputes it" },
    }),
  );
  expect(await left(third.item)).toBe(20_000n);
  const back = must(await getDeposit(await treasury(), { id: settlement!.id }));
  expect(back.underWay).toBe(-20_000n);
  expect(await faults()).toEqual([]);
});

test("one invoice is paid by two cards, and no more of it than there is", async () => {
  const fourth = await owed("R-4", "90.00", "SAB");
  const card = (number: string, amount: string) =>
    part({ kind: "card", partner: "SAB", cheque: number, amount, items: [fourth.item] });
  const over = await make([card("T-21", "90.00"), card("T-22", "1.00")]);
  expect(over.ok ? [] : over.problems.map((p) => (p as { field?: string }).field)).toEqual([
    "parts.1.items",
  ]);
  const twice = { ...card("T-21", "90.00"), items: [fourth.item, fourth.item] };
  expect(codes(await make([twice]))).toEqual(["INVALID"]);
  const made = must(await make([card("T-21", "40.00"), card("T-22", "55.00")]));
  expect(await left(fourth.item)).toBe(0n);
  must(
    await returnCheque(await treasury(), {
      ...{ id: made.id, no: 1, date: "2026-10-09", reason: "cardholder disputes it" },
    }),
  );
  expect(await left(fourth.item)).toBe(4_000n);
  expect(await faults()).toEqual([]);
});

test("what a rule wants a second person for is no slip's to post", async () => {
  const small = must(await make([part({ cheque: "5", amount: "1.00", items: [] })]));
  must(
    await saveApprovalRule(await root(), {
      type: "bank",
      company: "ALP",
      currency: "EUR",
      minimum: "100.00",
      role: "controller",
    }),
  );
  const refused = await make([part({ cheque: "6", amount: "100.00", items: [] })]);
  expect(codes(refused)).toEqual(["INVALID"]);
  expect(refused.ok ? "" : refused.problems).toMatchObject([
    {
      what: expect.stringMatching(
        /By a rule, bank journals .* approved by a controller, and a slip does not wait/,
      ) as string,
    },
  ]);
  must(await make([part({ cheque: "7", amount: "99.99", items: [] })]));
  const back = { id: small.id, no: 1, date: "2026-10-08", reason: "no funds" };
  must(await returnCheque(await treasury(), back));
});
