import { describe, expect, test } from "vitest";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { chartTable, readTable } from "../files";
import { openItems } from "../openItems";
import { deleteAccount, deleteHeading, loadChart, loadDimensionValues } from "../organisation";
import { chart as wholeChart, loadOpening, reverseJournal, trialBalance } from "./index";
import { verify } from "../verify";

const w = world();
const file = async (text: string) => must(await readTable("x.csv", new TextEncoder().encode(text)));

describe("from files", () => {
  test("opening balances are checked row by row, post as one journal that balances, and reach control accounts", async () => {
    const root = await callerOf(w.database, "root");
    const opening = { company: "ALP", date: "2025-01-01" };
    const bad = await loadOpening(root, {
      ...opening,
      take: true,
      rows: await file(
        "account,debit,credit\n1110,100.00,\n9999,5.00,\n3010,,104.99\n2440,1.005,\n",
      ),
    });
    expect(bad).toMatchObject({
      ok: false,
      problems: [{ what: expect.stringMatching(/Row 5/) as string }],
    });
    expect(
      await loadOpening(root, {
        ...opening,
        rows: await file("account,debit,credit\n1110,100.00,\n9999,5.00,\n3010,,104.99\n"),
      }),
    ).toMatchObject({
      ok: false,
      problems: [
        { what: "Row 3: There is no account 9999" },
        { what: expect.stringMatching(/differ by 0.01/) as string },
      ],
    });
    const good = await file(
      'account,debit,credit,partner\n1110,"1,100.00",,\n2140,,100.00,Tarn Rope & Chain\n3010,,1000.00,\n',
    );
    expect(must(await loadOpening(root, { ...opening, rows: good }))).toMatchObject({
      added: 3,
      changed: 0,
      same: 0,
    });
    const place = { company: "ALP", period: "2026-01" };
    const bank = async () =>
      must(await trialBalance(root, place)).rows.find((r) => r.account === "1110")!.opening;
    expect(await bank()).toBe(0n);
    must(await loadOpening(root, { ...opening, rows: good, take: true }));
    expect(await bank()).toBe(110_000n);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("opening items keep their currency, partner, due date and reference; the same once more asks; a reversal takes all of it back", async () => {
    const root = await callerOf(w.database, "root");
    const opening = {
      company: "ALP",
      date: "2025-01-01",
      rows: await file(
        [
          "account;debit;credit;currency;foreign;partner;due date;reference",
          "1110;1.000,50;;;;;;",
          "1310;91,00;;USD;100,00;Tarn Rope & Chain;2025-02-01;D-77",
          "2140;;50,00;GBP;43,10;Tarn Rope & Chain;2025-01-20;T-9",
          "3010;;1.041,50;;;;;",
        ].join("\n"),
      ),
    };
    expect(must(await loadOpening(root, opening))).toMatchObject({ added: 4, before: null });
    const { journal } = must(await loadOpening(root, { ...opening, take: true }));
    const items = async (area: string) =>
      must(await openItems(root, { company: "ALP", area, on: "2025-01-31" }))
        .filter((i) => i.currency !== "EUR")
        .map((i) => [i.partner, i.reference, i.dueDate, i.currency, i.left]);
    expect([await items("receivables"), await items("payables")]).toEqual([
      [["Tarn Rope & Chain", "D-77", "2025-02-01", "USD", 10000n]],
      [["Tarn Rope & Chain", "T-9", "2025-01-20", "GBP", -4310n]],
    ]);
    expect(must(await loadOpening(root, opening)).before).toBe(journal);
    expect(await loadOpening(root, { ...opening, take: true })).toMatchObject({
      problems: [{ field: "confirmed" }],
    });
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
    must(await reverseJournal(root, { key: journal }));
    expect([await items("receivables"), await items("payables")].flat()).toEqual([]);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
    // What was reversed does not stand in the way of the right one.
    expect(must(await loadOpening(root, { ...opening, take: true })).before).toBeNull();
  });

  test("a chart and dimension values come in whole or not at all, and a second time change nothing", async () => {
    const admin = await callerOf(w.database, "admin");
    const chart = await file(
      "number,name,type,control,monetary,heading,blocked\n6399,Divers,expense,,no,63,no\n6310,Quays and piers,expense,,no,63,no\n",
    );
    expect(must(await loadChart(admin, { rows: chart }))).toMatchObject({
      added: 1,
      changed: 1,
      same: 0,
    });
    must(await loadChart(admin, { rows: chart, take: true }));
    expect(must(await loadChart(admin, { rows: chart, take: true }))).toMatchObject({
      added: 0,
      changed: 0,
      same: 2,
    });
    expect(
      await loadChart(admin, {
        take: true,
        rows: await file("number,name,type,heading\n6398,Good,expense,63\n6397,Bad,costs,63\n"),
      }),
    ).toMatchObject({ ok: false, problems: [{ what: expect.stringMatching(/Row 3/) as string }] });
    // A chart that is taken out comes back as it is, headings and rules included.
    const whole = must(await wholeChart(admin, {}));
    const out = chartTable(whole.accounts, whole.headings, whole.dimensions);
    const back = must(
      await loadChart(admin, {
        rows: out.rows.map((r) =>
          Object.fromEntries(out.headers.map((h, i) => [h.toLowerCase(), String(r.cells[i])])),
        ),
      }),
    );
    expect([back.added, back.changed, back.same]).toEqual([0, 0, out.rows.length]);
    // What nothing rests on can be deleted, from below; the rest says why it stays.
    must(
      await loadChart(admin, {
        take: true,
        rows: await file(
          "number,name,type,heading,costcentre\n99,Trials,heading,9,\n9910,Trial,units,99,required\n",
        ),
      }),
    );
    expect(codes(await deleteHeading(admin, { code: "99" }))).toEqual(["IN_USE"]);
    must(await deleteAccount(admin, { number: "9910" }));
    must(await deleteHeading(admin, { code: "99" }));
    for (const [number, why] of [
      ["1110", "postings"],
      ["8575", "posting account"],
    ])
      expect(await deleteAccount(admin, { number })).toMatchObject({
        problems: [{ code: "IN_USE", what: expect.stringContaining(why!) as string }],
      });
    expect(codes(await deleteAccount(admin, { number: "nowhere" }))).toEqual(["ACCOUNT_UNKNOWN"]);
    const values = await file(
      "code,name,parent,from,to,blocked\nNORTH,North,,,,yes\nN-1,North one,NORTH,2026-01-01,,no\n",
    );
    must(await loadDimensionValues(admin, { dimension: "costCentre", rows: values, take: true }));
    expect(
      must(await loadDimensionValues(admin, { dimension: "costCentre", rows: values, take: true })),
    ).toEqual({ added: 0, changed: 0, same: 2 });
    expect(
      await loadDimensionValues(admin, {
        dimension: "costCentre",
        rows: await file("code,name,parent\nX-1,X,NOWHERE\n"),
      }),
    ).toMatchObject({ ok: false });
  });
});
