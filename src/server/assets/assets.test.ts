import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { world } from "../../../tests/useWorld";
import { callerOf, codes, must, STANDARD_TAX } from "../../../tests/world";
import { CRANES, FIVE_YEARS as RULE } from "../../../tests/thingsOfAssets";
import { rows } from "../db";
import { closeBoard } from "../closing";
import { savePartner } from "../partners";
import { cancelInvoice, createInvoice } from "../payables";
import { getRunItem, listRunItems, postRun, proposeRun, reverseRun } from "../runs";
import { reconcileSubLedgers } from "../subLedgers";
import { loadRates } from "../rates";
import { saveTaxCode } from "../taxes";
import { verify } from "../verify";
import {
  fillIntake,
  listIntake,
  mergeIntake,
  saveAssetClass,
  setIntakeAside,
  splitIntake,
  type IntakeLine,
} from "./index";

const w = world();
const clerk = () => callerOf(w.database, "assets");
const root = () => callerOf(w.database, "root");
let papers = 0;
const buy = async (
  lines: readonly { net: string; description: string; account?: string }[],
  more = {},
) =>
  createInvoice(await callerOf(w.database, "payables"), {
    company: "ALP",
    supplier: "BUY",
    number: `B-${++papers}`,
    date: "2026-09-10",
    ...more,
    lines: lines.map((l) => ({
      account: "1088",
      dimensions: { costCentre: "HARB" },
      taxCode: "S",
      ...l,
    })),
    post: true,
  });
const waiting = async () => must(await listIntake(await clerk(), { company: "ALP" }));
const named = (lines: readonly IntakeLine[], ...texts: string[]) =>
  texts.map((t) => lines.find((l) => l.source.description === t)!);
const keys = (lines: readonly IntakeLine[]) => lines.map(({ id, version }) => ({ id, version }));
const fill = async (lines: readonly IntakeLine[], content: object) =>
  fillIntake(await clerk(), { company: "ALP", lines: keys(lines), content });
const propose = async (kind: string, params: object, who = clerk) =>
  proposeRun(await who(), { kind, params: { company: "ALP", ...params } });
const post = async (run: { id: number }) => postRun(await clerk(), { key: String(run.id) });
const items = async (run: { id: number }) =>
  must(await listRunItems(await clerk(), { company: "ALP", run: String(run.id), limit: 100 })).rows;
/** What the accounts hold in a book, by number; common journals and its own. */
const held = async (book: string, ...accounts: string[]) => {
  const found = await rows<{ number: string; amount: bigint }>(
    w.database.db,
    sql`select a.number, sum(case l.side when 'D' then l.amount else -l.amount end)::bigint as amount
      from journal_line l join account a on a.id = l.account_id
        join company c on c.id = l.company_id and c.code = 'ALP'
        left join book b on b.id = l.book_id
      where l.book_id = 0 or b.code = ${book} group by 1`,
  );
  return accounts.map((n) => found.find((f) => f.number === n)?.amount ?? 0n);
};
const holds = async () => {
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  for (const on of ["2026-09-30", "2026-10-31"]) {
    const { rows: lists } = must(await reconcileSubLedgers(await root(), { company: "ALP", on }));
    expect(lists.filter((l) => l.listed !== l.held)).toEqual([]);
  }
};

beforeAll(async () => {
  must(await saveTaxCode(await root(), STANDARD_TAX));
  const supplier = { code: "BUY", name: "Cranes & Winches", supplier: true, country: "IE" };
  must(await savePartner(await root(), supplier));
});

describe("classes", () => {
  test("say at their fields what is wrong: no life, a residual value that leaves nothing, accounts of another kind, a class below itself", async () => {
    const faults = async (more: object) => {
      const saved = await saveAssetClass(await clerk(), { ...CRANES, ...more });
      return saved.ok ? [] : saved.problems.map((p) => p.field);
    };
    expect(await faults({ common: { ...RULE, life: "0" } })).toEqual(["common.life"]);
    expect(await faults({ common: { ...RULE, residual: "100" } })).toEqual(["common.residual"]);
    expect(
      await faults({ own: { TAX: { ...RULE, method: "by law", percents: "50; 40" } } }),
    ).toEqual(["own.TAX.percents"]);
    expect(await faults({ own: { NONE: RULE } })).toEqual(["own.NONE.method"]);
    expect(await faults({ cost: "6310", charge: "1075", clearing: "1076", gain: "8070" })).toEqual([
      "cost",
      "charge",
      "clearing",
      "gain",
    ]);
    expect(await faults({ parent: "CRANE" })).toEqual(["parent"]);
    expect(await faults({ needs: ["berth"] })).toEqual(["needs"]);
    expect(codes(await saveAssetClass(await callerOf(w.database, "payables"), CRANES))).toEqual([
      "FORBIDDEN",
    ]);
    must(await saveAssetClass(await clerk(), CRANES));
  });
});

describe("from the invoice line to the charge", () => {
  let taken: { id: number };

  test("an invoice of four lines waits by itself, two by two become one asset, and the clearing account is what is left", async () => {
    const invoice = must(
      await buy([
        { net: "40,000.00", description: "Crane" },
        { net: "2,000.00", description: "Mounting of the crane" },
        { net: "9,000.00", description: "Winch" },
        { net: "900.00", description: "Rope for the winch" },
        { net: "120.00", description: "Gloves" },
      ]),
    );
    const { lines, clearing } = await waiting();
    expect(lines.map((l) => [l.content.class, l.missing])).toEqual(
      lines.map(() => ["CRANE", ["in service from"]]),
    );
    expect([clearing.held, clearing.listed]).toEqual([5_202_000n, 5_202_000n]);
    const [crane, mounting, winch, rope, gloves] = named(
      lines,
      "Crane",
      "Mounting of the crane",
      "Winch",
      "Rope for the winch",
      "Gloves",
    );
    expect(codes(await propose("asset-intake", { date: "2026-09-30" }))).toEqual(["NOT_FOUND"]);
    // In use before it was bought is no answer; an unknown class is said at its field.
    must(await fill([crane!], { inService: "2026-09-01" }));
    expect((await waiting()).lines[0]!.missing).toEqual([
      "in service after it was bought on 10 Sep 2026",
    ]);
    const unknown = await fill([winch!], { class: "BOAT" });
    expect(unknown.ok ? [] : unknown.problems.map((p) => p.field)).toEqual(["class"]);
    const now = async () => (await waiting()).lines;
    expect(codes(await fill([crane!], { inService: "2026-09-15" }))).toEqual(["IN_USE"]);
    must(await fill(named(await now(), "Crane", "Winch"), { inService: "2026-09-15" }));
    const merge = async (...texts: string[]) => {
      const own = named(await now(), ...texts);
      must(
        await mergeIntake(await clerk(), { company: "ALP", lines: keys(own), into: own[0]!.id }),
      );
    };
    await merge("Crane", "Mounting of the crane");
    await merge("Winch", "Rope for the winch");
    must(await fill(named(await now(), "Gloves"), { into: "expense", account: "6310" }));
    expect([mounting!.id, rope!.id, gloves!.id].every(Boolean)).toBe(true);

    taken = must(await propose("asset-intake", { date: "2026-09-30" }));
    expect((await items(taken)).map((i) => [i.label, i.amount])).toEqual([
      ["Crane", 4_200_000n],
      ["Winch", 990_000n],
      ["Gloves", 12_000n],
    ]);
    // Lines that a preview has are not changed, and not taken in twice.
    expect(codes(await fill(named(await now(), "Crane"), { place: "Quay" }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    expect(codes(await propose("asset-intake", { date: "2026-09-30" }))).toEqual(["NOT_FOUND"]);
    must(await post(taken));
    expect(await held("IFRS", "1088", "1075", "6310")).toEqual([0n, 5_190_000n, 12_000n]);
    expect((await waiting()).lines).toEqual([]);
    await holds();
    // What became assets keeps its invoice from being cancelled as if nothing had come of it.
    const cancel = { id: invoice.id, reason: "Entered twice" };
    expect(codes(await cancelInvoice(await root(), cancel))).toEqual(["RUN_STANDS_IN_WAY"]);
  });

  test("each book is charged by its rule, says how, and goes on from there; reversed, it is charged again (worked example)", async () => {
    const run = must(await propose("depreciation", { period: "2026-09" }));
    // 42,000 and 9,900 over 60 months; 40 % a year of them in the tax book, of which that is a part.
    expect((await items(run)).map((i) => [i.group, i.amount])).toEqual([
      ["Cranes", 70_000n],
      ["Cranes, TAX only", 70_000n],
      ["Cranes", 16_500n],
      ["Cranes, TAX only", 16_500n],
    ]);
    const [first, own] = await items(run);
    const steps = async (no: number) =>
      must(await getRunItem(await clerk(), { run: String(run.id), no })).explanation.steps.map(
        (s) => [s.label, s.amount ?? s.text],
      );
    expect(await steps(first!.id)).toEqual([
      ["Cost", 4_200_000n],
      ["Spread", 4_200_000n],
      ["How", "straight line, 5 years, from the month of use on; 1 of 60 months"],
      ["Should be charged by 30 Sep 2026", 70_000n],
      ["Charged so far", 0n],
      ["Charged now", 70_000n],
    ]);
    expect((await steps(own!.id)).at(-2)).toEqual(["Charged now in all books", -70_000n]);
    expect(codes(await propose("depreciation", { period: "2026-09" }))).not.toEqual([]);
    must(await post(run));
    expect(await held("IFRS", "8030", "1076")).toEqual([86_500n, -86_500n]);
    expect(await held("TAX", "8030", "1076")).toEqual([173_000n, -173_000n]);
    await holds();
    // Nothing is charged twice; the run that took the assets in waits for the charges to go first.
    expect(codes(await propose("depreciation", { period: "2026-09" }))).toEqual(["NOT_FOUND"]);
    const undo = async (of: { id: number }) =>
      reverseRun(await root(), { key: String(of.id), reason: "In the wrong month" });
    expect(codes(await undo(taken))).toEqual(["RUN_STANDS_IN_WAY"]);
    must(await undo(run));
    expect(await held("TAX", "8030", "1076")).toEqual([0n, 0n]);
    await holds();
    // October catches September up.
    const october = must(await propose("depreciation", { period: "2026-10" }));
    expect((await items(october)).map((i) => i.amount)).toEqual([
      140_000n,
      140_000n,
      33_000n,
      33_000n,
    ]);
    must(await post(october));
    expect(codes(await propose("depreciation", { period: "2026-09" }))).toEqual(["NOT_FOUND"]);
    must(await undo(october));
    must(await undo(taken));
    expect(await held("IFRS", "1088", "1075", "6310")).toEqual([5_202_000n, 0n, 0n]);
    expect((await waiting()).lines).toHaveLength(5);
    await holds();
  });

  test("a later credit goes to the same asset from its beginning; an addition from its day; a line is split to the cent, set aside and taken up", async () => {
    must(await buy([{ net: "1,000.00", description: "Three screens" }]));
    const [screens] = named((await waiting()).lines, "Three screens");
    const split = async (parts: string) =>
      splitIntake(await clerk(), {
        company: "ALP",
        id: screens!.id,
        version: screens!.version,
        parts,
      });
    expect(codes(await split("1"))).toEqual(["INVALID"]);
    expect(codes(await split("600; 500"))).toEqual(["INVALID"]);
    must(await split("3"));
    const parts = (await waiting()).lines.filter((l) => l.source.description === "Three screens");
    expect(parts.map((p) => p.amount)).toEqual([33_334n, 33_333n, 33_333n]);
    await holds();
    const aside = async (more: object) =>
      setIntakeAside(await clerk(), {
        company: "ALP",
        lines: keys((await waiting()).lines.filter((l) => l.id === parts[2]!.id)),
        ...more,
      });
    expect(codes(await aside({}))).toEqual(["REASON_REQUIRED"]);
    must(await aside({ reason: "Goes back to the supplier" }));
    must(await fill(parts.slice(0, 2), { inService: "2026-09-20", serial: "S-1" }));
    const run = must(await propose("asset-intake", { date: "2026-09-30" }));
    // 333.34 is no more than the threshold of 500: expensed at once.
    expect((await items(run)).filter((i) => i.label === "Three screens").map((i) => i.why)).toEqual(
      ["expensed at once", "expensed at once"],
    );
    must(await post(run));
    const [number] = (
      await rows<{ number: string }>(
        w.database.db,
        sql`select number from document where kind = 'asset' and title = 'Crane'
          and status = 'active'`,
      )
    ).map((r) => r.number);
    must(await aside({ again: "yes" }));
    must(
      await buy([
        { net: "3,000.00", description: "Stronger hook" },
        { net: "600.00", description: "Rebate" },
      ]),
    );
    must(
      await fill(named((await waiting()).lines, "Stronger hook"), {
        into: "addition",
        asset: number,
        inService: "2026-10-01",
      }),
    );
    must(
      await fill(named((await waiting()).lines, "Rebate"), { into: "correction", asset: number }),
    );
    must(await post(must(await propose("asset-intake", { date: "2026-10-10" }))));
    const october = must(await propose("depreciation", { period: "2026-10" }));
    // 42,600 from September on, 3,000 over what is left of it from October on.
    const [charge] = (await items(october)).filter((i) => i.label.endsWith(" Crane"));
    expect(charge!.amount).toBe(71_000n + 76_085n);
    must(await post(october));
    await holds();
    const { checks } = must(
      await closeBoard(await root(), { company: "ALP", book: "IFRS", period: "2026-10" }),
    );
    expect(checks.find((c) => c.code === "sub-ledgers")).toMatchObject({ state: "holds" });
  });
});

describe("an asset that is gone", () => {
  test("a half is sold with a gain, the other half scrapped, each book by its own values; taken back as it was", async () => {
    // The month before is charged first, so that nothing but the retirement is in it.
    const crane = await (async () => {
      must(await buy([{ net: "6,000.00", description: "Small crane" }]));
      must(await fill(named((await waiting()).lines, "Small crane"), { inService: "2026-09-15" }));
      must(await post(must(await propose("asset-intake", { date: "2026-10-11" }))));
      const [found] = await rows<{ number: string }>(
        w.database.db,
        sql`select number from document where kind = 'asset' and title = 'Small crane'`,
      );
      return found!.number;
    })();
    const gone = (more: object, date = "2026-10-12") =>
      propose("retirement", {
        date,
        why: "sold",
        assets: [{ number: crane, share: "1/2", proceeds: "3,100.00", account: "4530", ...more }],
      });
    const faults = async (more: object) => {
      const run = await gone(more);
      return run.ok ? [] : run.problems.map((p) => p.field);
    };
    expect(await faults({ share: "3/2" })).toEqual(["share"]);
    expect(await faults({ account: "" })).toEqual(["account"]);
    expect(await faults({ account: "1310" })).toEqual(["account"]);
    expect(await faults({ number: "ALP-26-A99999" })).toEqual(["number"]);
    const before = await held("TAX", "1075", "1076", "4530", "8070", "8030");
    const half = must(await gone({}));
    // September is caught up: 100.00 in all books and 100.00 more in the tax book.
    expect((await items(half)).map((i) => [i.amount, i.why])).toEqual([
      [295_000n, "1/2; a gain of 150.00 EUR"],
    ]);
    must(await post(half));
    await holds();
    const change = async (book: string) =>
      (await held(book, "1075", "1076", "4530", "8070", "8030")).map((a, i) => a - before[i]!);
    // In the tax book the half was carried at 2,900.00.
    expect(await change("TAX")).toEqual([-300_000n, -10_000n, 290_000n, 0n, 20_000n]);
    const scrapped = must(
      await propose("retirement", {
        date: "2026-10-13",
        why: "scrapped",
        assets: [{ number: crane }],
      }),
    );
    must(await post(scrapped));
    await holds();
    expect(codes(await gone({}))).toEqual(["NOT_FOUND"]);
    for (const run of [scrapped, half])
      must(
        await reverseRun(await root(), { key: String(run.id), reason: "The buyer stepped back" }),
      );
    expect(await change("TAX")).toEqual([0n, 0n, 0n, 0n, 0n]);
    await holds();
    must(await gone({}));
  });
});

describe("two companies, two people, another currency", () => {
  test("a dollar invoice of the British company waits in pounds and stays its own; of two who take in or retire the same at once, one does", async () => {
    must(
      await loadRates(await root(), {
        rows: [{ base: "USD", quote: "GBP", date: "2026-10-05", rate: "0.8" }],
        take: true,
      }),
    );
    must(
      await createInvoice(await callerOf(w.database, "payables"), {
        company: "BET",
        supplier: "BUY",
        number: "USD-1",
        date: "2026-10-05",
        currency: "USD",
        lines: [
          {
            account: "1088",
            dimensions: { costCentre: "HARB" },
            taxCode: "S",
            net: "10,000.00",
            description: "Lathe",
          },
        ],
        post: true,
      }),
    );
    const own = async () => must(await listIntake(await clerk(), { company: "BET" }));
    const [lathe] = (await own()).lines;
    expect([lathe!.amount, (await own()).clearing.held]).toEqual([800_000n, 800_000n]);
    // Under the name of another company nothing of it is there.
    expect(codes(await fill([lathe!], { place: "Not here" }))).toEqual(["NOT_FOUND"]);
    const inBeta = { company: "BET", lines: keys([lathe!]) };
    must(await fillIntake(await clerk(), { ...inBeta, content: { inService: "2026-10-05" } }));
    const both = <T>(job: () => Promise<T>) => Promise.all([job(), job()]);
    const take = () => propose("asset-intake", { company: "BET", date: "2026-10-06" });
    const previews = await both(take);
    expect(previews.map((r) => r.ok).sort()).toEqual([false, true]);
    const run = must(previews.find((r) => r.ok)!);
    const posts = await both(() => post(run));
    expect(posts.map((r) => r.ok).sort()).toEqual([false, true]);
    const [made] = await rows<{ number: string; assets: number }>(
      w.database.db,
      sql`select max(d.number) as number, count(*)::int as assets from asset a
        join document d on d.id = a.document_id join company c on c.id = a.company_id
        where c.code = 'BET'`,
    );
    expect(made!.assets).toBe(1);
    const goes = () =>
      propose("retirement", {
        company: "BET",
        date: "2026-10-12",
        why: "lost",
        assets: [{ number: made!.number }],
      });
    expect((await both(goes)).map((r) => r.ok).sort()).toEqual([false, true]);
    expect(
      codes(
        await propose("retirement", {
          date: "2026-10-12",
          assets: [{ number: made!.number }],
        }),
      ),
    ).toEqual(["NOT_FOUND"]);
    await holds();
  });
});
