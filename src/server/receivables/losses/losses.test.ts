import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { saleInput } from "@/core/receivables";
import { callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { getJournal } from "../../ledger";
import { openItems, saveWriteOffLimit } from "../../openItems";
import { loadRates } from "../../rates";
import { savePartner } from "../../partners";
import {
  changeRun,
  getRun,
  getRunItem,
  listRunItems,
  postRun,
  proposeRun,
  reverseRun,
} from "../../runs";
import { saveTaxCode, taxSummary } from "../../taxes";
import { verify } from "../../verify";
import { saveCustomerGroup } from "../desk";
import { createSale, saveReceivablesSettings } from "../index";
import { listWriteOffs, lossMatrix, undoWriteOff, writeOffItems } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");

async function invoice(
  customer: string,
  date: string,
  net: string,
  more: { taxCode?: string; currency?: string } = {},
): Promise<{ number: string; item: number }> {
  const { taxCode = "NO", ...head } = more;
  const line = { account: "4130", dimensions: { costCentre: "HARB" }, net, taxCode };
  const { number } = must(
    await createSale(await clerk(), {
      ...saleInput({ company: "ALP", customer, date, ...head, lines: [line] }),
      post: true,
    }),
  );
  const [item] = await rows<{ id: bigint }>(
    w.database.db,
    sql`select id from open_item where reference = ${number!}`,
  );
  return { number: number!, item: Number(item!.id) };
}
const linesOf = async (key: string) => {
  const j = must(await getJournal(await root(), { key }));
  return j.kind === "posted" ? j.lines.map((l) => `${l.account} ${l.side} ${l.amount}`) : [];
};
const open = async (partner: string) =>
  must(
    await openItems(await clerk(), {
      company: "ALP",
      area: "receivables",
      partner,
      on: "2026-10-15",
    }),
  ).map((i) => `${i.reference} ${i.left}`);
const faults = async () => (await verify(w.database.db)).flatMap((c) => c.faults);
const october = async () =>
  must(
    await taxSummary(await root(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
  ).rows.map((r) => [r.code, r.base, r.tax]);
const writeOff = async (items: { id: number; amount?: string }[], more: object = {}) =>
  writeOffItems(await clerk(), {
    company: "ALP",
    date: "2026-10-12",
    reason: "insolvent since August",
    items,
    ...more,
  });

beforeAll(async () => {
  const code = { direction: "sale" as const, owedAccount: "2210", returnLine: "S1" };
  const since = "2020-01-01";
  must(
    await saveTaxCode(await root(), {
      ...code,
      code: "OUT",
      name: "VAT",
      kind: "standard",
      rates: [{ from: since, percent: "23" }],
    }),
  );
  must(
    await saveTaxCode(await root(), {
      code: "NO",
      name: "None",
      direction: "sale",
      kind: "none",
      rates: [{ from: since, percent: "0" }],
    }),
  );
  for (const group of ["GOOD", "POOR"])
    must(await saveCustomerGroup(await root(), { code: group, name: `${group} payers` }));
  for (const [partner, customerGroup] of [
    ["FEN", "POOR"],
    ["SAB", "GOOD"],
    ["TIN", ""],
  ] as const)
    must(
      await savePartner(await root(), {
        code: partner,
        name: `${partner} & Co`,
        customer: true,
        country: "DE",
        customerGroup,
      }),
    );
  must(
    await saveReceivablesSettings(await root(), {
      creditRule: "warn",
      lossDimensions: { costCentre: "HARB" },
    }),
  );
  must(
    await loadRates(await root(), {
      take: true,
      rows: ["2026-08-05", "2026-10-12"].map((date, i) => ({
        base: "EUR",
        quote: "USD",
        date,
        rate: i === 0 ? "1.25" : "1.10",
      })),
    }),
  );
});

describe("what customers will not pay", () => {
  test("is given up within one's limit and with a reason, with the tax corrected; undone it is open again", async () => {
    const { item, number } = await invoice("FEN", "2026-07-01", "1,000.00", { taxCode: "OUT" });
    expect(codes(await writeOff([{ id: item }]))).toEqual(["INVALID"]);
    must(
      await saveWriteOffLimit(await root(), {
        person: "receivables",
        company: "ALP",
        limit: "1,500.00",
      }),
    );
    expect(codes(await writeOff([{ id: item }], { reason: "" }))).toEqual(["REASON_REQUIRED"]);
    expect(codes(await writeOff([{ id: item, amount: "1,230.01" }]))).toEqual(["INVALID"]);
    expect(codes(await writeOff([{ id: item }], { date: "2026-06-30" }))).toEqual(["INVALID"]);
    expect(codes(await writeOff([{ id: item }, { id: item }]))).toEqual(["INVALID"]);
    // A part first, without the tax; the rest with it.
    const first = must(await writeOff([{ id: item, amount: "230.00" }]));
    expect(await linesOf(first.journals[0]!)).toEqual(["1310 credit 23000", "7460 debit 23000"]);
    expect(await open("FEN")).toEqual([`${number} 100000`]);
    const rest = must(await writeOff([{ id: item }], { correctTax: true }));
    expect(await linesOf(rest.journals[0]!)).toEqual([
      "1310 credit 100000",
      "2210 debit 18699",
      "7460 debit 81301",
    ]);
    expect(await october()).toEqual([["OUT", -81_301n, -18_699n]]);
    expect(await open("FEN")).toEqual([]);
    expect(await faults()).toEqual([]);
    const [newest] = must(await listWriteOffs(await clerk(), { company: "ALP" }));
    expect(newest).toMatchObject({ customer: "FEN", amount: 100_000n, taxCorrected: true });
    must(
      await undoWriteOff(await root(), { journal: newest!.journal.id, reason: "they have paid" }),
    );
    expect(
      codes(await undoWriteOff(await root(), { journal: newest!.journal.id, reason: "once more" })),
    ).toEqual(["IN_USE"]);
    expect(await open("FEN")).toEqual([`${number} 100000`]);
    expect((await october()).map(([, base, tax]) => [base, tax])).toEqual([[0n, 0n]]);
    expect(await faults()).toEqual([]);
  });

  test("in another currency is given up at what it is carried at, with no exchange difference", async () => {
    const { item } = await invoice("FEN", "2026-08-05", "500.00", { currency: "USD" });
    const { journals } = must(await writeOff([{ id: item, amount: "125.00" }]));
    expect(await linesOf(journals[0]!)).toEqual(["1310 credit 10000", "7460 debit 10000"]);
    expect(await faults()).toEqual([]);
  });

  test("two people at once give an item up once", async () => {
    const { item } = await invoice("TIN", "2026-07-01", "100.00");
    const both = await Promise.all([writeOff([{ id: item }]), writeOff([{ id: item }])]);
    expect(both.filter((b) => b.ok).length).toBe(1);
    expect(await faults()).toEqual([]);
  });
});

describe("expected credit losses", () => {
  const propose = async (more: object = {}) =>
    must(
      await proposeRun(await clerk(), {
        kind: "credit-losses",
        params: { company: "ALP", date: "2026-10-15", ...more },
      }),
    ).id;
  const itemsOf = async (run: number) =>
    must(
      await listRunItems(await clerk(), { company: "ALP", run: String(run), limit: 100 }),
    ).rows.map((i) => `${i.group} ${i.amount}`);
  const view = async (run: number) => must(await getRun(await clerk(), { key: String(run) }));

  test("rates are what was lost of all that came to be so old, by group; the run takes the allowance there", async () => {
    // SAB's is not so old that anything could be lost: it goes by all, TIN's 100.00 among them.
    // Of FEN's 1,230.00, 400.00 USD at 1.25 and 1,000.00 not due: 230.00 and 100.00 are lost.
    const young = await invoice("FEN", "2026-10-01", "1,000.00");
    await invoice("SAB", "2026-09-20", "2,000.00");
    const matrix = must(await lossMatrix(await clerk(), { company: "ALP", on: "2026-10-15" }));
    const poor = matrix.groups.find((g) => g.code === "POOR")!.cells;
    expect(poor.map((c) => [c.owed, c.reached, c.lost, c.rate])).toEqual([
      [100_000n, 163_000n, 33_000n, "20.2454"],
      [0n, 163_000n, 33_000n, "20.2454"],
      [30_000n, 163_000n, 33_000n, "20.2454"],
      [100_000n, 123_000n, 23_000n, "18.6992"],
      [0n, 0n, 0n, "0.00"],
    ]);
    const run = await propose({ forward: { POOR: "10" } });
    expect((await itemsOf(run)).sort()).toEqual([
      "GOOD, not due 49711",
      "POOR, 31–60 days 6681",
      "POOR, 61–90 days 20569",
      "POOR, not due 22270",
    ]);
    const { head } = await view(run);
    expect(head.figures.map((f) => [f.label, f.amount])).toEqual([
      ["Allowance needed", 99_231n],
      ["Allowance before", 0n],
      ["Added", 99_231n],
      ["Owed", 430_000n],
    ]);
    const no = must(
      await listRunItems(await clerk(), { company: "ALP", run: String(run), limit: 100 }),
    ).rows.find((i) => i.label === young.number)!.id;
    const { explanation } = must(await getRunItem(await clerk(), { run: String(run), no }));
    expect(explanation.steps.at(-1)).toMatchObject({ label: "Allowance", amount: 22_270n });
    // One item has an allowance of its own; more than is owed of it is refused.
    const give = async (amount: string) =>
      changeRun(await clerk(), {
        key: String(run),
        dropped: [],
        amounts: { [`specific ${young.item}`]: amount },
      });
    expect(codes(await give("1,000.01"))).toEqual(["INVALID"]);
    must(await give("500.00"));
    const posted = must(await postRun(await clerk(), { key: String(run) }));
    expect(await linesOf(posted.journals[0]!)).toEqual(["7460 debit 126961", "1319 credit 126961"]);
    expect(await faults()).toEqual([]);
    // What comes next posts what differs; undone, the allowance is as it was.
    const next = await propose({ forward: { POOR: "10" } });
    const again = must(await postRun(await clerk(), { key: String(next) }));
    expect(await linesOf(again.journals[0]!)).toEqual(["7460 credit 27730", "1319 debit 27730"]);
    must(await reverseRun(await root(), { key: String(next), reason: "rates of last year" }));
    expect((await view(await propose())).head.figures[1]!.amount).toBe(126_961n);
  });
});
