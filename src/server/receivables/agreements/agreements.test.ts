import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { saleInput } from "@/core/receivables";
import { callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { savePartner } from "../../partners";
import { listRunItems, postRun, proposeRun, reverseRun } from "../../runs";
import { loadRates } from "../../rates";
import { saveTaxCode } from "../../taxes";
import { verify } from "../../verify";
import { checkSale, saveReceivablesSettings, sendSale } from "../index";
import {
  endAgreement,
  getAgreement,
  listAgreements,
  saveAgreement,
  savePriceIndex,
  skipAgreement,
} from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");
const berth = (more: object = {}, sale: object = {}) => ({
  name: "Berth 4, Wren",
  rhythm: { every: 1, unit: "month", first: "31 Aug 2026", until: "" },
  clause: { index: "CPI", base: "120", least: "2" },
  sale: saleInput({
    company: "ALP",
    customer: "CLUB",
    description: "Berth 4, {month} {yyyy}",
    lines: [
      {
        account: "4130",
        dimensions: { costCentre: "HARB" },
        quantity: "1",
        price: "250.00",
        description: "Berth dues {mm}/{yyyy}",
        taxCode: "NO",
      },
    ],
    ...sale,
  }),
  ...more,
});
const list = async (upTo = "2026-10-31") =>
  must(await listAgreements(await clerk(), { company: "ALP", upTo }));
const propose = async (params: object = {}) =>
  must(
    await proposeRun(await clerk(), {
      kind: "agreement",
      params: { company: "ALP", upTo: "2026-10-31", ...params },
    }),
  );
const itemsOf = async (id: number) =>
  must(await listRunItems(await clerk(), { company: "ALP", run: String(id), limit: 100 })).rows;

beforeAll(async () => {
  const code = { direction: "sale", owedAccount: "2210", returnLine: "S1", code: "NO" };
  const rates = [{ from: "2020-01-01", percent: "0" }];
  must(await saveTaxCode(await root(), { ...code, name: "None", kind: "none", rates }));
  for (const [partner, name] of [
    ["CLUB", "Wren Yacht Club"],
    ["SHUT", "Shut Out"],
  ] as const)
    must(
      await savePartner(await root(), {
        code: partner,
        name,
        customer: true,
        country: "IE",
        email: "office@club.example",
        currency: "EUR",
      }),
    );
  must(
    await savePriceIndex(await root(), {
      code: "CPI",
      name: "Consumer prices",
      values: [
        { from: "2026-10-01", value: "126" },
        { from: "2026-01-01", value: "121.2" },
      ],
    }),
  );
});

test("an agreement makes its invoices: each month one, at the price that its index has come to", async () => {
  const { id } = must(await saveAgreement(await clerk(), { agreement: berth() }));
  expect(await list()).toMatchObject([
    {
      customerName: "Wren Yacht Club",
      due: ["2026-08-31", "2026-09-30", "2026-10-31"],
      move: { percent: "5.00", follows: true },
    },
  ]);
  must(await skipAgreement(await clerk(), { id, date: "2026-08-31", reason: "laid up" }));
  const run = await propose();
  const items = await itemsOf(run.id);
  expect(items.map((i) => [i.label, i.amount])).toEqual([
    ["Berth 4, September 2026, Wren Yacht Club", 25_000n],
    ["Berth 4, October 2026, Wren Yacht Club", 26_250n],
  ]);
  expect(items[1]!.why).toContain("prices follow CPI: 126, 5.00 % on what was agreed");
  // While a preview holds them, nothing is due twice.
  const params = { company: "ALP", upTo: "2026-10-31" };
  expect(codes(await proposeRun(await clerk(), { kind: "agreement", params }))).toEqual([
    "NOT_FOUND",
  ]);
  must(await postRun(await clerk(), { key: String(run.id) }));
  const { made, due, last } = must(await getAgreement(await clerk(), { id, upTo: "2026-10-31" }));
  expect(made.map((m) => [m.date, m.amount, m.status])).toEqual([
    ["2026-10-31", 26_250n, "posted"],
    ["2026-09-30", 25_000n, "posted"],
  ]);
  expect([due, last]).toEqual([[], "2026-10-31"]);
  // Taken back as a whole while nobody has seen them; then they are due again.
  must(await reverseRun(await clerk(), { key: String(run.id), reason: "wrong price" }));
  expect((await list())[0]!.due).toEqual(["2026-09-30", "2026-10-31"]);
  const again = await propose();
  must(await postRun(await clerk(), { key: String(again.id) }));
  const { made: anew } = must(await getAgreement(await clerk(), { id, upTo: "2026-10-31" }));
  must(await sendSale(await clerk(), { id: anew[0]!.id }));
  const refused = await reverseRun(await clerk(), { key: String(again.id), reason: "too late" });
  expect(codes(refused)).toEqual(["IN_USE"]);
  must(await endAgreement(await clerk(), { id, to: "ended" }));
  expect((await list("2026-12-31"))[0]!.due).toEqual([]);
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});

test("an invoice that cannot be posted is left out with its reason, the others are made", async () => {
  const shut = berth({ name: "Berth 5", clause: {} }, { customer: "SHUT" });
  must(await saveAgreement(await clerk(), { agreement: shut }));
  const open = berth({
    name: "Berth 6",
    clause: {},
    rhythm: { every: 3, unit: "month", first: "15 Oct 2026", until: "" },
  });
  must(await saveAgreement(await clerk(), { agreement: open }));
  await w.database.db.execute(
    sql`update partner set blocks = '["invoices"]'::jsonb, block_reason = 'in liquidation' where code = 'SHUT'`,
  );
  const run = await propose();
  const items = await itemsOf(run.id);
  expect(items.map((i) => [i.group, !i.leftOut])).toEqual([
    ["Berth 5", false],
    ["Berth 5", false],
    ["Berth 5", false],
    ["Berth 6", true],
  ]);
  expect(items[0]!.leftOut).toContain("in liquidation");
  must(await postRun(await clerk(), { key: String(run.id) }));
  const [count] = await rows<{ n: number }>(
    w.database.db,
    sql`select count(*)::int as n from document_link l join document d on d.id = l.to_id
      where l.from_id = ${run.id} and l.kind = 'made' and d.kind = 'sale' and d.status = 'posted'`,
  );
  expect(count!.n).toBe(1);
});

test("what hurts is said at its place", async () => {
  const fieldOf = async (agreement: object) => {
    const saved = await saveAgreement(await clerk(), { agreement });
    return saved.ok ? "saved" : saved.problems[0]!.field;
  };
  expect(await fieldOf(berth({ clause: { index: "NONE", base: "1" } }))).toBe("index");
  expect(await fieldOf(berth({ clause: { index: "CPI", base: "" } }))).toBe("base");
  expect(await fieldOf(berth({ clause: { index: "CPI", base: "0" } }))).toBe("base");
  const early = { every: 1, unit: "month", first: "1 Jan 2025", until: "" };
  expect(await fieldOf(berth({ rhythm: early }))).toBe("index");
  expect(await fieldOf(berth({ clause: {} }, { customer: "NOBODY" }))).toBe("customer");
  expect(await fieldOf(berth({ rhythm: { every: 1, unit: "month", first: "soon" } }))).toBe(
    "first",
  );
  const twice = [1, 2].map(() => ({ from: "2026-01-01", value: "1" }));
  const index = { code: "X", name: "X", values: twice };
  expect(codes(await savePriceIndex(await root(), index))).toEqual(["INVALID"]);
});

test("an agreement of another company in a foreign currency, over the year's end: each invoice at the rate and by the number of its day", async () => {
  must(
    await loadRates(await root(), {
      take: true,
      rows: [
        { base: "EUR", quote: "GBP", date: "2025-12-31", rate: "0.80" },
        { base: "EUR", quote: "GBP", date: "2026-01-31", rate: "0.90" },
      ],
    }),
  );
  const agreement = berth(
    {
      name: "Over the year",
      clause: {},
      rhythm: { every: 1, unit: "month", first: "31 Dec 2025", until: "31 Jan 2026" },
    },
    { company: "BET", currency: "EUR" },
  );
  const { id } = must(await saveAgreement(await clerk(), { agreement }));
  const params = { company: "BET", upTo: "2026-01-31" };
  const run = must(await proposeRun(await clerk(), { kind: "agreement", params }));
  const { rows: items } = must(
    await listRunItems(await clerk(), { company: "BET", run: String(run.id), limit: 100 }),
  );
  expect(items.map((i) => i.amount)).toEqual([20_000n, 22_500n]);
  must(await postRun(await clerk(), { key: String(run.id) }));
  const { made } = must(await getAgreement(await clerk(), { id, upTo: "2026-12-31" }));
  expect(made.map((m) => m.number)).toEqual(["BET-26-S00001", "BET-25-S00001"]);
  // Alpha's people see nothing of it among Alpha's.
  expect((await list()).some((a) => a.name === "Over the year")).toBe(false);
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});

test("what is agreed for the days after an invoice counts for its customer's limit, in the company's currency and with tax", async () => {
  const rates = [{ from: "2020-01-01", percent: "10" }];
  const tax = { direction: "sale", owedAccount: "2210", returnLine: "S1", kind: "standard", rates };
  must(await saveTaxCode(await root(), { ...tax, code: "TEN", name: "Ten" }));
  const usd = { base: "USD", quote: "EUR", date: "2026-10-14", rate: "0.90" };
  must(await loadRates(await root(), { take: true, rows: [usd] }));
  must(
    await savePartner(await root(), {
      code: "LIMITED",
      name: "Limited Launches",
      customer: true,
      country: "IE",
      creditLimit: "1,000.00",
      creditCurrency: "EUR",
    }),
  );
  const line = { account: "4130", dimensions: { costCentre: "HARB" }, taxCode: "TEN" };
  const agree = async (name: string, first: string, net: string, more: object = {}) =>
    must(
      await saveAgreement(await clerk(), {
        agreement: {
          name,
          rhythm: { every: 1, unit: "month", first, until: "" },
          clause: { index: "", base: "", least: "0" },
          sale: saleInput({
            company: "ALP",
            customer: "LIMITED",
            lines: [{ ...line, net, description: name }],
            ...more,
          }),
        },
      }),
    );
  await agree("Berth", "31 Oct 2026", "300.00");
  const slip = await agree("Slip", "5 Nov 2026", "100.00", { currency: "USD" });
  await agree("Next year", "15 Jan 2027", "900.00");
  const creditOf = async (date: string, net: string) => {
    const sale = saleInput({
      company: "ALP",
      customer: "LIMITED",
      date,
      lines: [{ ...line, net }],
    });
    const { credit, problems } = must(await checkSale(await clerk(), sale));
    return { credit, said: problems.map((p) => p.message).join() };
  };
  // 300.00 and 100.00 USD with tax: 330.00 and 99.00.
  expect((await creditOf("2026-10-15", "500.00")).credit).toMatchObject({
    agreed: 42_900n,
    after: 97_900n,
    over: false,
  });
  // From the day of the berth on it is one that is invoiced, and the next one counts.
  expect((await creditOf("2026-10-31", "500.00")).credit).toMatchObject({ agreed: 42_900n });
  const set = async (more: object) =>
    saveReceivablesSettings(await root(), { creditRule: "refuse", ...more });
  must(await set({ creditDays: 18 }));
  expect((await creditOf("2026-10-15", "700.00")).said).toContain("agreed (330.00)");
  must(await set({ creditDays: 0 }));
  expect((await creditOf("2026-10-15", "700.00")).credit).toMatchObject({
    agreed: 0n,
    over: false,
  });
  const wrong = await set({ creditDays: -1 });
  expect(wrong.ok ? "" : wrong.problems[0]!.field).toBe("creditDays");
  must(await set({ creditRule: "warn", creditDays: 30 }));
  must(await endAgreement(await clerk(), { id: slip.id, to: "ended" }));
  expect((await creditOf("2026-10-15", "500.00")).credit).toMatchObject({ agreed: 33_000n });
});
