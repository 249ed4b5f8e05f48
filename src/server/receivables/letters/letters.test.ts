import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { saleInput, usualReminders } from "@/core/receivables";
import { callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { textOfPdf } from "../../../../tests/pdfText";
import { rows } from "../../db";
import { stopJob, workOnAll } from "../../jobs";
import { getMessageFile, listOutbox } from "../../letters";
import { savePartner } from "../../partners";
import {
  changeRun,
  discardRun,
  getRun,
  listRunItems,
  postRun,
  proposeRun,
  reverseRun,
} from "../../runs";
import { saveTaxCode } from "../../taxes";
import { verify } from "../../verify";
import { makePromise, openDispute, saveCustomerGroup } from "../desk";
import { createSale, listSales, saveReceivablesSettings } from "../index";
import { confirmPromise, getLetterPdf, saveLateRates, saveReminders, sendLetters } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");
const today = (day: string) =>
  w.database.db.execute(
    sql`update setting set value = ${JSON.stringify(day)}::jsonb where key = 'working-date'`,
  );

async function invoice(
  customer: string,
  date: string,
  net: string,
  more: { kind?: "credit note"; currency?: string } = {},
): Promise<string> {
  const line = {
    account: "4130",
    dimensions: { costCentre: "HARB" },
    description: "Berth",
    net,
    taxCode: "NO",
  };
  const { number } = must(
    await createSale(await clerk(), {
      ...saleInput({ company: "ALP", customer, date, ...more, lines: [line] }),
      post: true,
    }),
  );
  return number!;
}
const idOf = async (reference: string) =>
  Number(
    (
      await rows<{ id: bigint }>(
        w.database.db,
        sql`select id from open_item where reference = ${reference} and area = 'receivables'`,
      )
    )[0]!.id,
  );

const propose = async (date: string, more: object = {}, by = clerk) =>
  proposeRun(await by(), { kind: "letters", params: { company: "ALP", date, ...more } });
/** What a run has of each customer: label, state, amount, reason. */
const itemsOf = async (run: number) =>
  must(
    await listRunItems(await clerk(), { company: "ALP", run: String(run), limit: 200 }),
  ).rows.map((i) => `${i.group} ${i.label} ${i.state} ${i.amount} ${i.leftOut || i.why}`);
const post = async (run: number, by = clerk) => postRun(await by(), { key: String(run) });
const view = async (run: number) => must(await getRun(await clerk(), { key: String(run) }));
const faults = async () => (await verify(w.database.db)).flatMap((c) => c.faults);
const mailbox = async () => must(await listOutbox(await clerk(), { company: "ALP" }));
const textOf = async (id: number) =>
  textOfPdf(must(await getMessageFile(await clerk(), { id })).content);

let old = "";
let young = "";
let disputed = "";
let promised = "";
let run = 0;
const sales = async () =>
  must(await listSales(await clerk(), { company: "ALP", limit: 200 })).rows.length;

beforeAll(async () => {
  await today("2026-09-08");
  must(
    await saveTaxCode(await root(), {
      code: "NO",
      name: "None",
      direction: "sale",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(await saveCustomerGroup(await root(), { code: "AGENT", name: "Agents" }));
  const partner = { customer: true, country: "IE" };
  for (const more of [
    { code: "FEN", name: "Fennick Freight", email: "pay@fennick.example", customerGroup: "AGENT" },
    { code: "SAB", name: "Sable Tours", email: "", language: "de" as const },
    { code: "TIN", name: "Tiny Boats", email: "tiny@boats.example" },
    { code: "BLO", name: "Blocked & Co", blocks: ["reminders" as const], blockReason: "in court" },
  ])
    must(await savePartner(await root(), { ...partner, ...more }));
  old = await invoice("FEN", "2026-05-25", "1,000.00");
  young = await invoice("FEN", "2026-07-30", "500.00");
  disputed = await invoice("FEN", "2026-06-25", "300.00");
  await invoice("FEN", "2026-07-04", "100.00", { kind: "credit note" });
  await invoice("SAB", "2026-06-25", "800.00");
  promised = await invoice("SAB", "2026-07-09", "400.00");
  await invoice("TIN", "2026-06-25", "19.99");
  await invoice("BLO", "2026-06-25", "700.00");
  must(
    await openDispute(await clerk(), {
      item: await idOf(disputed),
      amount: "200.00",
      reason: "price",
    }),
  );
  must(
    await makePromise(await clerk(), {
      company: "ALP",
      partner: "SAB",
      due: "2026-09-13",
      items: [{ id: await idOf(promised), amount: "" }],
    }),
  );
});

describe("a run of reminders", () => {
  test("takes each overdue item at its next level, and says of all others why not", async () => {
    run = must(await propose("2026-09-08")).id;
    expect(await itemsOf(run)).toEqual([
      `BLO Blocked & Co ALP-26-S00008 out 70000 blocked for reminders: in court`,
      `FEN Fennick Freight ${old} in 100000 Level 1: 76 days overdue`,
      `FEN Fennick Freight ${disputed} in 10000 Level 1: 45 days overdue; in dispute in part`,
      `FEN Fennick Freight ALP-26-S00004 in -10000 credit, taken off`,
      `FEN Fennick Freight ${young} in 50000 Level 1: 10 days overdue`,
      `SAB Sable Tours ALP-26-S00005 in 80000 Level 1: 45 days overdue`,
      `SAB Sable Tours ${promised} out 40000 promised for 13 Sep 2026`,
      `TIN Tiny Boats ALP-26-S00007 out 1999 19.99 EUR is below the minimum of 20.00`,
    ]);
    const { head } = await view(run);
    expect(head.makes).toBe("Make 2 letters");
    expect(head.warnings).toEqual(["1 customer without an e-mail address: printed instead."]);
    // A letter can be read before it is made; to whoever gets none, there is none.
    const pdf = async (customer: string) =>
      getLetterPdf(await clerk(), { run: String(run), customer });
    expect(await textOfPdf(must(await pdf("SAB")).file)).toContain("800,00");
    expect(codes(await pdf("TIN"))).toEqual(["NOT_FOUND"]);
    // The same items are in one preview at a time.
    expect(codes(await propose("2026-09-08"))).toEqual(["RUN_STANDS_IN_WAY"]);
  });

  test("leaves out by hand what a person does not want, and what moved since is computed again", async () => {
    const key = `${await idOf(young)}|1`;
    must(
      await changeRun(await clerk(), {
        key: String(run),
        dropped: [key],
        amounts: {},
      }),
    );
    expect((await itemsOf(run)).find((i) => i.includes(young))).toContain(" dropped 50000 ");
    must(
      await makePromise(await clerk(), {
        company: "ALP",
        partner: "FEN",
        due: "2026-09-23",
        items: [{ id: await idOf(old), amount: "400.00" }],
      }),
    );
    expect(codes(await post(run))).toEqual(["RUN_MOVED"]);
    must(await discardRun(await clerk(), { key: String(run) }));
  });

  test("keeps level and day with its items; the letters wait to be sent, and until then all can be undone", async () => {
    run = must(await propose("2026-09-08")).id;
    const drop = { key: String(run), dropped: [`${await idOf(young)}|1`], amounts: {} };
    must(await changeRun(await clerk(), drop));
    must(await post(run));
    const levels = await rows(
      w.database.db,
      sql`select l.partner, l.level, l.amount from customer_letter l where l.run_id = ${run} order by 1`,
    );
    expect(levels).toEqual([
      { partner: "FEN", level: 1, amount: 60_000n },
      { partner: "SAB", level: 1, amount: 80_000n },
    ]);
    must(await reverseRun(await root(), { key: String(run), reason: "the wrong day" }));
    run = must(await propose("2026-09-08", { customers: ["FEN", "SAB"] })).id;
    must(await changeRun(await clerk(), { ...drop, key: String(run) }));
    must(await post(run));
  });

  test("goes out by and by, is stopped and goes on, each letter once; then nothing is taken back", async () => {
    const before = (await mailbox()).length;
    expect(must(await sendLetters(await clerk(), { run: String(run) })).letters).toBe(2);
    expect(codes(await sendLetters(await clerk(), { run: String(run) }))).toEqual(["INVALID"]);
    const [job] = await rows<{ id: number }>(
      w.database.db,
      sql`select id::int as id from job where kind = 'send-letters'`,
    );
    must(await stopJob(await clerk(), { id: job!.id }));
    await workOnAll(w.database);
    expect((await mailbox()).length).toBe(before);
    expect(must(await sendLetters(await clerk(), { run: String(run) })).letters).toBe(2);
    await workOnAll(w.database);
    const sent = await mailbox();
    expect(sent.length).toBe(before + 2);
    expect(
      sent
        .slice(0, 2)
        .map((m) => m.to)
        .sort(),
    ).toEqual(["pay@fennick.example", "printer"]);
    expect(codes(await sendLetters(await clerk(), { run: String(run) }))).toEqual(["INVALID"]);
    expect(
      codes(await reverseRun(await root(), { key: String(run), reason: "sent too early" })),
    ).toEqual(["RUN_STANDS_IN_WAY"]);
    const english = await textOf(sent.find((m) => m.to !== "printer")!.id);
    for (const part of ["Payment reminder", old, "600.00", "−100.00", "600.00", "15 Sep 2026"])
      expect(english).toContain(part);
    expect(english).not.toContain("Reminder fee");
    const german = await textOf(sent.find((m) => m.to === "printer")!.id);
    for (const part of ["Zahlungserinnerung", "800,00", "15.09.2026"])
      expect(german).toContain(part);
    await expect(
      w.database.db.execute(sql`update customer_letter set level = 2 where run_id = ${run}`),
    ).rejects.toThrow();
  });
});

describe("the next levels", () => {
  test("wait their days; the third charges fee and interest at the law's rates, posted where its group says so", async () => {
    const usual = usualReminders();
    must(
      await saveReminders(await root(), { code: "AGENT", procedure: { ...usual, invoiced: true } }),
    );
    must(
      await saveLateRates(await root(), {
        rates: [
          { from: "2026-01-01", percent: "10" },
          { from: "2026-07-01", percent: "9.5" },
        ],
      }),
    );
    await today("2026-09-22");
    const second = must(await propose("2026-09-22", { customers: ["FEN"] })).id;
    expect((await itemsOf(second))[0]).toBe(
      `FEN Fennick Freight ${old} in 60000 Level 2: 90 days overdue, level 1 on 8 Sep 2026; promised for 23 Sep 2026 in part`,
    );
    must(await post(second));
    await today("2026-10-06");
    const third = must(await propose("2026-10-06", { customers: ["FEN"] })).id;
    const charges = (await itemsOf(third)).filter((i) => !i.includes("26-S"));
    // 1,000.00 for 6 days at 10 % and 98 at 9.5 %, 100.00 for 73 and 500.00 for 38 at 9.5 %.
    expect(charges).toEqual([
      "FEN Fennick Freight Reminder fee in 4000 Level 3, posted as an invoice",
      "FEN Fennick Freight Interest on late payment in 3400 Level 3, posted as an invoice",
    ]);
    expect((await view(third)).head.blocks).toEqual([
      "No account is set for reminder fees and interest; the controller sets it in Setup, Receivables",
    ]);
    expect(codes(await post(third))).toEqual(["RUN_STANDS_IN_WAY"]);
    must(
      await saveReceivablesSettings(await root(), {
        creditRule: "warn",
        feeAccount: "8510",
        interestAccount: "8510",
        chargeTax: "NO",
      }),
    );
    must(
      await changeRun(await clerk(), {
        key: String(third),
        dropped: [],
        amounts: {},
      }),
    );
    const count = await sales();
    must(await post(third));
    expect(await sales()).toBe(count + 1);
    expect(await faults()).toEqual([]);
    // Taken back before it is sent, the invoice goes with it and the levels are as before.
    must(await reverseRun(await root(), { key: String(third), reason: "a day too early" }));
    const again = must(await propose("2026-10-06", { customers: ["FEN"] })).id;
    expect((await itemsOf(again)).filter((i) => !i.includes("26-S"))).toEqual(charges);
    must(await post(again));
    expect(await faults()).toEqual([]);
    // What was charged is not charged twice, and earns no interest itself; the last level is the last.
    await today("2026-11-07");
    const last = must(await propose("2026-11-07", { customers: ["FEN"] })).id;
    expect((await itemsOf(last)).map((i) => i.replace(/^.*(in|out) /, "$1 "))).toEqual([
      "out 100000 had the last level on 6 Oct 2026",
      "out 30000 had the last level on 6 Oct 2026",
      "in -10000 credit, taken off",
      "in 50000 Level 3: 70 days overdue, level 2 on 6 Oct 2026",
      "out 7400 level 1 comes on 12 Nov 2026",
      "in 4000 Level 3, posted as an invoice",
      // 32 days of 9.5 % on 500.00.
      "in 416 Level 3, posted as an invoice",
    ]);
  });
});

test("statements go to the address for statements, by name, place and e-mail; the rest stays where it sits", async () => {
  const partner = {
    code: "BRA",
    name: "Branch Boats",
    customer: true,
    country: "IE",
    city: "Ostry",
    email: "branch@boats.example",
  };
  const head = { statementName: "Boats Head Office", statementCity: "Kestle" };
  must(
    await savePartner(await root(), { ...partner, ...head, statementEmail: "head@boats.example" }),
  );
  await invoice("BRA", "2026-07-30", "55.00");
  const { id } = must(await propose("2026-11-07", { what: "statement", customers: ["BRA"] }));
  must(await post(id));
  must(await sendLetters(await clerk(), { run: String(id) }));
  await workOnAll(w.database);
  const [sent] = await mailbox();
  expect(sent!.to).toBe("head@boats.example");
  const text = await textOf(sent!.id);
  expect(text).toContain("Boats Head Office");
  expect(text).toContain("Kestle");
  expect(text).not.toContain("Ostry");
});

test("a promise is confirmed by a letter of what was promised, which goes out at once", async () => {
  const [found] = await rows<{ id: number }>(
    w.database.db,
    sql`select id from promise where partner = 'FEN' and withdrawn_at is null`,
  );
  must(await confirmPromise(await clerk(), { id: found!.id }));
  const [mail] = await mailbox();
  const text = await textOf(mail!.id);
  for (const part of ["Confirmation of your promise to pay", old, "400.00", "23 Sep 2026"])
    expect(text).toContain(part);
  const [unreachable] = await rows<{ id: number }>(
    w.database.db,
    sql`select id from promise where partner = 'SAB'`,
  );
  expect(codes(await confirmPromise(await clerk(), { id: unreachable!.id }))).toEqual(["INVALID"]);
});

test("what is sent and what is taken back at the same moment: one of them, never both", async () => {
  for (let round = 0; round < 3; round++) {
    const statement = must(
      await propose("2026-11-07", { what: "statement", customers: ["SAB", "TIN"] }),
    ).id;
    must(await post(statement));
    must(await sendLetters(await clerk(), { run: String(statement) }));
    const by = await root();
    const [reversed] = await Promise.all([
      reverseRun(by, { key: String(statement), reason: "sent to the wrong ones" }),
      workOnAll(w.database),
    ]);
    const [sent] = await rows<{ sent: number }>(
      w.database.db,
      sql`select count(sent_at)::int as sent from customer_letter where run_id = ${statement}`,
    );
    expect([reversed.ok, sent!.sent]).toEqual(reversed.ok ? [true, 0] : [false, 2]);
  }
});
