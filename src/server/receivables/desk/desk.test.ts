import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { invoiceInput } from "@/core/payables";
import { saleInput, usualPolicy } from "@/core/receivables";
import { addDays } from "@/core/shared";
import { callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import {
  addRemark,
  addSaidFile,
  callsForMe,
  getAttachment,
  removeAttachment,
} from "../../documents";
import { ageing, allocateItems, openItems } from "../../openItems";
import { saveContacts, savePartner } from "../../partners";
import { loadRates } from "../../rates";
import { saveInvoice } from "../../payables";
import { saveTaxCode } from "../../taxes";
import { createSale } from "../index";
import {
  closeDispute,
  customerState,
  collectionsDesk,
  deskCustomer,
  makePromise,
  openDispute,
  sayOfCustomer,
  saveCustomerGroup,
  tryPolicy,
  withdrawPromise,
} from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");
const FEN = { company: "ALP", partner: "FEN" };

/** The day that the application works on from now on. */
const today = (day: string) =>
  w.database.db.execute(
    sql`update setting set value = ${JSON.stringify(day)}::jsonb where key = 'working-date'`,
  );
async function invoice(
  customer: string,
  date: string,
  net: string,
  kind: "invoice" | "credit note" = "invoice",
  currency: string | null = null,
): Promise<string> {
  const line = {
    account: "4130",
    dimensions: { costCentre: "HARB" },
    description: "Berth",
    net,
    taxCode: "NO",
  };
  const done = must(
    await createSale(await clerk(), {
      ...saleInput({ company: "ALP", kind, customer, date, currency, lines: [line] }),
      post: true,
    }),
  );
  return done.number!;
}
const view = async () => must(await deskCustomer(await clerk(), FEN));
const itemOf = async (reference: string) =>
  (await view()).items.find((i) => i.reference === reference)!;
const desk = async (more: object = {}) =>
  must(await collectionsDesk(await clerk(), { company: "ALP", ...more }));
/** Something is set against an invoice: a credit note here, as money would be. */
async function settle(
  customer: string,
  reference: string,
  amount: string,
  date: string,
  currency: string | null = null,
) {
  const note = await invoice(customer, date, amount, "credit note", currency);
  const on = { company: "ALP", area: "receivables", partner: customer, on: date } as const;
  const items = must(await openItems(await clerk(), on));
  const item = (of: string) => items.find((i) => i.reference === of)!.id;
  must(
    await allocateItems(await clerk(), {
      date,
      pairs: [{ first: item(reference), second: item(note), amount }],
    }),
  );
}

let first = "";
let second = "";
let third = "";
beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "NO",
      name: "None",
      direction: "sale",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  const partner = { customer: true, country: "DE" };
  for (const [code, name, more] of [
    [
      "FEN",
      "Fennick Freight",
      { supplier: true, collector: "receivables", creditLimit: "10,000.00", grade: "C" },
    ],
    ["SAB", "Sable Tours", {}],
  ] as const)
    must(await savePartner(await root(), { code, name, ...partner, ...more }));
  first = await invoice("FEN", "2026-08-05", "4,000.00");
  second = await invoice("FEN", "2026-08-20", "2,000.00");
  third = await invoice("FEN", "2026-10-01", "1,000.00");
  await invoice("SAB", "2026-09-01", "500.00");
});

describe("the desk", () => {
  test("ranks by a sum of parts, the same on the list and on the customer", async () => {
    const { rows, totals } = await desk();
    expect(rows.map((r) => r.code)).toEqual(["FEN", "SAB"]);
    expect(rows[0]).toMatchObject({ toCollect: 600_000n, overdue: 600_000n, limitUsed: 70 });
    expect(rows[0]!.daysLate).toBe(41);
    expect(rows[0]!.action).toBe("call");
    expect(rows[0]!.score).toBe(rows[0]!.parts.reduce((t, p) => t + p.points, 0));
    expect(totals).toMatchObject({ overdue: 650_000n, toCollect: 650_000n });
    const { row, lowers } = await view();
    expect(row).toEqual(rows[0]);
    expect(lowers.every((l) => l.score < row.score)).toBe(true);
  });
  test("holds a person's customers, and those where it stands in", async () => {
    expect((await desk({ collector: "receivables" })).rows.map((r) => r.code)).toEqual(["FEN"]);
    expect((await desk({ text: "sable" })).rows.map((r) => r.code)).toEqual(["SAB"]);
  });
});

describe("promises", () => {
  test("what is promised is not collected until its day; part of an item too", async () => {
    const before = (await view()).row.score;
    const [a, b] = [await itemOf(first), await itemOf(second)];
    must(
      await makePromise(await clerk(), {
        ...FEN,
        due: "2026-10-16",
        how: "transfer",
        by: "Ruth Amsel",
        items: [{ id: a.id }, { id: b.id, amount: "500.00" }],
      }),
    );
    const { row, items } = await view();
    expect(row).toMatchObject({ overdue: 600_000n, promised: 450_000n, toCollect: 150_000n });
    expect(items.map((i) => i.promised)).toEqual([400_000n, 50_000n, 0n]);
    expect(row.score).toBeLessThan(before);
  });
  test.each([
    ["2026-10-14", "", "due"],
    ["2026-10-20", "4,000.01", "items[0].amount"],
    ["2026-10-20", "0", "items[0].amount"],
    ["2026-10-20", "much", "items[0].amount"],
  ])("for %s, “%s”: refused at %s", async (due, amount, field) => {
    const { id } = await itemOf(first);
    const refused = await makePromise(await clerk(), { ...FEN, due, items: [{ id, amount }] });
    expect(refused.ok ? [] : refused.problems.map((p) => p.field)).toEqual([field]);
  });
  test("is in one currency", async () => {
    must(
      await loadRates(await root(), {
        rows: [{ kind: "spot", base: "USD", quote: "EUR", date: "2026-10-05", rate: "0.9" }],
        take: true,
      }),
    );
    const dollars = await itemOf(await invoice("FEN", "2026-10-05", "10.00", "invoice", "USD"));
    const euros = await itemOf(first);
    const items = [{ id: dollars.id }, { id: euros.id }];
    expect(codes(await makePromise(await clerk(), { ...FEN, due: "2026-10-20", items }))).toEqual([
      "INVALID",
    ]);
    await settle("FEN", dollars.reference, "10.00", "2026-10-05", "USD");
  });
  test("an item of another customer is not theirs to promise", async () => {
    const { id } = await itemOf(first);
    expect(
      codes(
        await makePromise(await clerk(), {
          company: "ALP",
          partner: "SAB",
          due: "2026-10-20",
          items: [{ id }],
        }),
      ),
    ).toEqual(["INVALID"]);
  });
  test("whether one was kept finds out itself: in part, when part of it came by its day", async () => {
    await settle("FEN", first, "4,000.00", "2026-10-15");
    expect((await view()).row).toMatchObject({ promised: 50_000n, toCollect: 150_000n });
    await today("2026-10-17");
    const { row, conversation, kept } = await view();
    expect(conversation[0]).toMatchObject({ kind: "promise kept in part", bad: true });
    expect(row).toMatchObject({ broken: 0, promised: 0n, toCollect: 200_000n });
    expect(kept).toBe(0);
  });
  test("broken, when nothing came; the ranking says so", async () => {
    const { id } = await itemOf(second);
    const before = (await view()).row;
    must(await makePromise(await clerk(), { ...FEN, due: "2026-10-18", items: [{ id }] }));
    await today("2026-10-19");
    const { row, conversation } = await view();
    expect(row.broken).toBe(1);
    expect(row.score).toBeGreaterThan(before.score);
    expect(row).toMatchObject({ action: "call", because: "promise broken yesterday" });
    expect(conversation[0]!.text).toContain("nothing came");
    expect((await itemOf(second)).brokenOn).toBe("2026-10-18");
  });
  test("one that was noted by mistake is withdrawn once, and breaks nothing", async () => {
    const { id } = await itemOf(second);
    const made = must(
      await makePromise(await clerk(), { ...FEN, due: "2026-10-25", items: [{ id }] }),
    );
    must(await withdrawPromise(await clerk(), { id: made.id }));
    expect(codes(await withdrawPromise(await clerk(), { id: made.id }))).toEqual(["IN_USE"]);
    expect((await view()).row.promised).toBe(0n);
  });
});

describe("disputes", () => {
  test("what is disputed stands apart and is not collected; solved, it counts again", async () => {
    const { id } = await itemOf(second);
    const { id: dispute } = must(
      await openDispute(await clerk(), {
        item: id,
        amount: "1,500.00",
        reason: "price",
        note: "Agreed rate was 40",
        owner: "controller",
        by: "2026-10-30",
      }),
    );
    const { row, items } = await view();
    expect(row).toMatchObject({ disputed: 150_000n, toCollect: 50_000n });
    const on = { company: "ALP", area: "receivables", on: (await desk()).on } as const;
    const aged = must(await ageing(await clerk(), on));
    const own = aged.rows.find((r) => r.partner === "FEN")!;
    expect([own.disputed, own.promised]).toEqual([row.disputed, row.promised]);
    expect(must(await ageing(await clerk(), { ...on, on: addDays(on.on, -1) })).disputed).toBe(0n);
    expect(items.find((i) => i.id === id)!.dispute).toMatchObject({ reason: "price" });
    expect(codes(await openDispute(await clerk(), { item: id, reason: "tax" }))).toEqual([
      "IN_USE",
    ]);
    must(await closeDispute(await clerk(), { id: dispute, outcome: "upheld", note: "As agreed" }));
    expect(codes(await closeDispute(await clerk(), { id: dispute, outcome: "part" }))).toEqual([
      "IN_USE",
    ]);
    const after = await view();
    expect(after.row).toMatchObject({ disputed: 0n, toCollect: 200_000n });
    expect(after.row.parts.find((p) => p.code === "solved")!.points).toBe(4);
  });
  test("of two people who open one at the same moment, one does", async () => {
    const { id } = await itemOf(third);
    const results = await Promise.all([
      openDispute(await clerk(), { item: id, reason: "quality" }),
      openDispute(await root(), { item: id, reason: "price" }),
    ]);
    expect(results.map(codes).sort()).toEqual([[], ["IN_USE"]]);
  });
  test("no more than is open", async () => {
    const { id } = await itemOf(second);
    expect(
      codes(await openDispute(await clerk(), { item: id, amount: "2,000.01", reason: "price" })),
    ).toEqual(["INVALID"]);
  });
});

describe("conversations", () => {
  test("what is said of a customer and on its documents is one; silence ends with it", async () => {
    must(
      await sayOfCustomer(await clerk(), {
        ...FEN,
        kind: "call",
        text: "Ruth is out until Friday @controller",
        nextStep: "call again",
        nextOn: "2026-10-23",
      }),
    );
    const { id } = await itemOf(second);
    const { documentId } = (await view()).items.find((i) => i.id === id)!;
    must(await addRemark(await clerk(), { id: documentId, text: "Copy of the order is in" }));
    const { conversation, row } = await view();
    expect(conversation.slice(0, 2).map((s) => [s.kind, s.text])).toEqual([
      ["note", "Copy of the order is in"],
      ["call", "Ruth is out until Friday @controller"],
    ]);
    expect(row).toMatchObject({ nextStep: "", nextOn: null });
    const calls = must(await callsForMe(await callerOf(w.database, "controller")));
    expect(calls[0]).toMatchObject({
      title: "Fennick Freight",
      page: "/receivables/customers/FEN",
    });
  });
  test("files come with what was said, for those who may see it, and stay", async () => {
    const said = must(await sayOfCustomer(await clerk(), { ...FEN, text: "Their mail" }));
    const file = {
      remark: said.id,
      name: "mail.txt",
      content: Buffer.from("We pay on Friday.").toString("base64"),
    };
    expect(codes(await addSaidFile(await root(), file))).toEqual(["FORBIDDEN"]);
    const evil = { ...file, name: "mail.exe", content: Buffer.from("MZ").toString("base64") };
    expect(codes(await addSaidFile(await clerk(), evil))).toEqual(["INVALID"]);
    const { id } = must(await addSaidFile(await clerk(), file));
    expect((await view()).conversation[0]).toMatchObject({
      text: "Their mail",
      files: [{ id, name: "mail.txt" }],
    });
    const read = must(await getAttachment(await root(), { id }));
    expect(read.content.toString()).toBe("We pay on Friday.");
    expect(codes(await getAttachment(await callerOf(w.database, "payables"), { id }))).toEqual([
      "FORBIDDEN",
    ]);
    expect(codes(await removeAttachment(await clerk(), { id }))).toEqual(["IN_USE"]);
    await expect(
      w.database.db.execute(sql`delete from attachment where id = ${id}`),
    ).rejects.toThrow();
  });
  test("what is said on papers of buying stays with those who may see them", async () => {
    const { id } = must(
      await saveInvoice(await root(), {
        content: invoiceInput({
          company: "ALP",
          supplier: "FEN",
          number: "F-1",
          date: "2026-10-05",
        }),
      }),
    );
    must(await addRemark(await root(), { id, text: "Dearer than agreed" }));
    const texts = async (login: string) =>
      must(await deskCustomer(await callerOf(w.database, login), FEN)).conversation.map(
        (s) => s.text,
      );
    expect(await texts("receivables")).not.toContain("Dearer than agreed");
    expect(await texts("root")).toContain("Dearer than agreed");
  });
  test("contacts are kept with the customer", async () => {
    const contact = { name: "Ruth Amsel", telephone: "+353 1 555 0100", email: "" };
    must(await saveContacts(await clerk(), { partner: "FEN", contacts: [contact] }));
    expect((await view()).contacts).toMatchObject([contact]);
    expect(
      codes(
        await saveContacts(await clerk(), {
          partner: "FEN",
          contacts: [{ ...contact, telephone: "ring" }],
        }),
      ),
    ).toEqual(["INVALID"]);
  });
});

test("a customer's page tells how it stands, with nothing open too; the figures are the desk's", async () => {
  const state = async (partner: string) =>
    must(await customerState(await clerk(), { company: "ALP", partner }));
  const { row, contacts, conversation } = await view();
  const fen = await state("FEN");
  expect(fen.row).toEqual(row);
  expect([fen.contacts, fen.conversation]).toEqual([contacts, conversation]);
  expect(fen.late.at(-1)!.quarter).toBe("2026-Q4");
  const fresh = { code: "NEW", name: "New Boats", customer: true, country: "IE" };
  must(await savePartner(await root(), { ...fresh, insurer: "", insuredAmount: "" }));
  expect(await state("NEW")).toMatchObject({ row: null, promises: 0, conversation: [] });
  const half = await savePartner(await root(), { ...fresh, insuredAmount: "5000", version: 1 });
  expect(half.ok ? "" : half.problems[0]).toMatchObject({ field: "insurer" });
});

describe("how scores are made", () => {
  test("is set by group, and the new order stands beside the old before it counts", async () => {
    const controller = await root();
    const policy = {
      ...usualPolicy(),
      late: 0,
      amount: 0,
      broken: 0,
      grade: 0,
      silent: 0,
      solved: 0,
    };
    const tried = must(await tryPolicy(controller, { company: "ALP", group: "", policy }));
    expect(tried.rows.find((r) => r.code === "FEN")!.score).toBeLessThan(
      tried.rows.find((r) => r.code === "FEN")!.was,
    );
    const before = await desk();
    must(await saveCustomerGroup(controller, { code: "BIG", name: "Large ones", policy }));
    expect((await desk()).rows).toEqual(before.rows);
    const none = { ...policy, limit: 0, soon: 0, trend: 0 };
    expect(
      codes(await saveCustomerGroup(controller, { code: "BIG", name: "Large ones", policy: none })),
    ).toEqual(["INVALID"]);
    expect(
      codes(await saveCustomerGroup(await clerk(), { code: "BIG", name: "Large ones" })),
    ).toEqual(["FORBIDDEN"]);
  });
});
