import { beforeAll, expect, test } from "vitest";
import { callerOf, must, codes, proposalOf } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { chart } from "../ledger";
import { deleteAccount, saveAccount } from "../organisation";
import { savePartner } from "../partners";
import { saveShares } from "../purchasing";
import { getRun, postRun, proposeRun, reverseRun } from "../runs";
import { saveTaxCode } from "../taxes";
import {
  endRecurringInvoice,
  skipRecurringInvoice,
  getInvoice,
  getRecurringInvoice,
  listInvoices,
  listRecurringInvoices,
  postInvoice,
  saveRecurringInvoice,
} from "./index";

const queries: string[] = [];
const w = world((q) => queries.push(q));
const clerk = () => callerOf(w.database, "payables");

beforeAll(async () => {
  const root = await callerOf(w.database, "root");
  must(
    await saveTaxCode(root, {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(
    await saveShares(await clerk(), {
      code: "PREM",
      name: "Premium",
      targets: [
        ["HARB", "55"],
        ["VESS", "30"],
        ["ADM", "15"],
      ].map(([costCentre, weight]) => ({ dimensions: { costCentre }, weight })),
    }),
  );
});

test("a premium that comes every quarter, shared over three cost centres, from the template to what is posted; within what was agreed", async () => {
  const template = {
    name: "Hull insurance",
    suppliers: ["Tarn Rope & Chain"],
    rhythm: { every: 3, unit: "month", first: "2026-01-15", until: "" },
    numberPattern: "PREM-{yyyy}-{q}",
    journalDay: "end of its month",
    agreed: "3,500.00",
    invoice: {
      company: "ALP",
      description: "Premium {q}",
      lines: [{ account: "6610", net: "1,000.01", taxCode: "Z", shares: "PREM" }],
    },
  };
  expect(
    codes(
      await saveRecurringInvoice(await clerk(), { template: { ...template, suppliers: ["NIL"] } }),
    ),
  ).toEqual(["PARTNER_UNKNOWN"]);
  expect(
    codes(
      await saveRecurringInvoice(await clerk(), {
        template: { ...template, rhythm: { ...template.rhythm, first: "31 Feb" } },
      }),
    ),
  ).toEqual(["DATE_INVALID"]);
  const { id } = must(await saveRecurringInvoice(await clerk(), { template }));
  must(
    await skipRecurringInvoice(await clerk(), {
      id,
      date: "2026-04-15",
      reason: "laid up in spring",
    }),
  );
  const propose = async (upTo: string) =>
    proposeRun(await clerk(), { kind: "recurring-invoice", params: { company: "ALP", upTo } });
  const run = must(await propose("2026-10-31"));
  expect((await proposalOf(await clerk(), run.id)).items.map((i) => i.label)).toEqual([
    "PREM-2026-Q1, Tarn Rope & Chain",
    "PREM-2026-Q3, Tarn Rope & Chain",
    "PREM-2026-Q4, Tarn Rope & Chain",
  ]);
  // What a preview has taken is not offered twice.
  expect(codes(await propose("2026-10-31"))).toEqual(["NOT_FOUND"]);
  must(await postRun(await clerk(), { key: String(run.id) }));
  // The run leads to what it made.
  expect(must(await getRun(await clerk(), { key: String(run.id) })).made).toContainEqual(
    expect.objectContaining({ kind: "invoice", status: "draft" }),
  );
  const view = must(await getRecurringInvoice(await clerk(), { id, upTo: "2026-10-31" }));
  expect([view.due, view.left, view.made.map((m) => [m.number, m.status])]).toEqual([
    [],
    49_997n,
    [
      ["PREM-2026-Q4", "draft"],
      ["PREM-2026-Q3", "draft"],
      ["PREM-2026-Q1", "draft"],
    ],
  ]);
  const draft = must(await getInvoice(await clerk(), { id: view.made[0]!.id }));
  expect([draft.content.date, draft.content.postingDate, draft.content.description]).toEqual([
    "15 Oct 2026",
    "31 Oct 2026",
    "Premium Q4",
  ]);
  const posted = must(
    await postInvoice(await clerk(), {
      id: draft.id,
      version: draft.version,
      content: draft.content,
    }),
  );
  const { getJournal } = await import("../ledger");
  const journal = must(
    await getJournal(await callerOf(w.database, "root"), { key: posted.journal }),
  );
  expect(
    journal.kind === "posted" &&
      journal.lines.map((l) => `${l.dimensions.costCentre ?? ""} ${l.side} ${l.amount}`),
  ).toEqual(["HARB debit 55001", "VESS debit 30000", "ADM debit 15000", " credit 100001"]);
  expect(
    codes(await reverseRun(await clerk(), { key: String(run.id), reason: "wrong template" })),
  ).toEqual(["RUN_STANDS_IN_WAY"]);
  // The fifth quarter would be more than was agreed: what is left of it is invoiced.
  must(await skipRecurringInvoice(await clerk(), { id, date: "2026-04-15" }));
  const more = must(await propose("2026-10-31"));
  const [last, ...others] = (await proposalOf(await clerk(), more.id)).items;
  expect([last!.leftOut, last!.why, others.map((i) => i.leftOut)]).toEqual([
    undefined,
    expect.stringContaining("the last of what was agreed"),
    others.map(() => "nothing is left of what was agreed"),
  ]);
  must(await postRun(await clerk(), { key: String(more.id) }));
  const all = must(await listInvoices(await clerk(), { company: "ALP" })).rows;
  expect(all.filter((i) => i.status === "draft").map((i) => i.amount)).toContain(49_997n);
  must(await endRecurringInvoice(await clerk(), { id, to: "ended" }));
  expect(
    must(await listRecurringInvoices(await clerk(), { company: "ALP", upTo: "2026-12-31" })),
  ).toMatchObject([{ status: "ended", due: [] }]);
});

test("for many suppliers a template is proposed and made in as many queries as for few; what was made is as if each had been made alone", async () => {
  const codesOf = (count: number) => Array.from({ length: count }, (_, i) => `M${count}-${i}`);
  const counts: number[][] = [];
  for (const suppliers of [codesOf(2), codesOf(25)]) {
    for (const code of suppliers)
      must(
        await savePartner(await clerk(), {
          code,
          name: `Mooring ${code}`,
          supplier: true,
          country: "IE",
        }),
      );
    const invoice = {
      company: "ALP",
      description: "Berth of {supplier}",
      lines: [{ account: "6610", dimensions: { costCentre: "HARB" }, net: "40.00", taxCode: "Z" }],
    };
    const { id } = must(
      await saveRecurringInvoice(await clerk(), {
        template: {
          name: `Berths of ${suppliers.length}`,
          suppliers,
          rhythm: { every: 1, unit: "month", first: "2026-10-01", until: "" },
          numberPattern: `B${suppliers.length}-{yyyy}-{mm}`,
          journalDay: "invoice date",
          agreed: "",
          invoice,
        },
      }),
    );
    const counted = async <T>(act: () => Promise<T>): Promise<[T, number]> => {
      const before = queries.length;
      const done = await act();
      return [done, queries.length - before];
    };
    const who = await clerk();
    const [run, proposing] = await counted(async () =>
      must(
        await proposeRun(who, {
          kind: "recurring-invoice",
          params: { company: "ALP", upTo: "2026-10-31", only: [id] },
        }),
      ),
    );
    const [, making] = await counted(async () => must(await postRun(who, { key: String(run.id) })));
    counts.push([proposing, making]);
    const { made } = must(await getRecurringInvoice(who, { id, upTo: "2026-10-31" }));
    expect(made.map((m) => [m.status, m.amount])).toEqual(suppliers.map(() => ["draft", 4_000n]));
    expect(
      (
        await Promise.all(
          made.map(async (m) => must(await getInvoice(who, { id: m.id })).content.supplier),
        )
      ).sort(),
    ).toEqual([...suppliers].sort());
    // What the run made goes with it, as long as it is a draft.
    must(await reverseRun(who, { key: String(run.id), reason: "wrong suppliers" }));
    expect(must(await getRecurringInvoice(who, { id, upTo: "2026-10-31" }))).toMatchObject({
      made: [],
      due: ["2026-10-01"],
    });
  }
  expect(counts[1]).toEqual(counts[0]);
});

test("an agreed total is spread over its dates in equal parts, to the cent, by supplier, whatever is left out", async () => {
  const template = {
    name: "Slipway lease",
    suppliers: ["Tarn Rope & Chain", "PEL"],
    rhythm: { every: 1, unit: "month", first: "2026-03-01", until: "2026-09-01" },
    numberPattern: "SLIP-{yyyy}-{mm}",
    journalDay: "invoice date",
    agreed: "1,000.00",
    spread: true,
    invoice: {
      company: "ALP",
      currency: "EUR",
      description: "Slipway {month}",
      lines: [
        { account: "6610", dimensions: { costCentre: "HARB" }, net: "3.00", taxCode: "Z" },
        { account: "6610", dimensions: { costCentre: "ADM" }, net: "1.00", taxCode: "Z" },
      ],
    },
  };
  expect(
    codes(
      await saveRecurringInvoice(await clerk(), {
        template: { ...template, rhythm: { ...template.rhythm, until: "" } },
      }),
    ),
  ).toEqual(["REQUIRED"]);
  const { id } = must(await saveRecurringInvoice(await clerk(), { template }));
  const skip = { id, date: "2026-04-01", reason: "ice in the harbour" };
  must(await skipRecurringInvoice(await clerk(), skip));
  const make = async (upTo: string) => {
    const params = { company: "ALP", upTo, only: [id] };
    const run = must(await proposeRun(await clerk(), { kind: "recurring-invoice", params }));
    must(await postRun(await clerk(), { key: String(run.id) }));
  };
  await make("2026-05-31");
  await make("2026-10-31");
  const { made } = must(await getRecurringInvoice(await clerk(), { id, upTo: "2026-12-31" }));
  const byMonth = new Map<string, bigint[]>();
  for (const m of made) byMonth.set(m.date, [...(byMonth.get(m.date) ?? []), m.amount]);
  expect([...byMonth].sort()).toEqual([
    ["2026-03-01", [16_667n, 16_667n]],
    ["2026-05-01", [16_667n, 16_667n]],
    ["2026-06-01", [16_667n, 16_667n]],
    ["2026-07-01", [16_666n, 16_666n]],
    ["2026-08-01", [16_667n, 16_667n]],
    ["2026-09-01", [16_666n, 16_666n]],
  ]);
});

test("a date that is made is not passed over; an account that a template is coded to stays; a stale copy is told whose change it missed", async () => {
  const template = {
    name: "Mooring fees",
    suppliers: ["Tarn Rope & Chain"],
    rhythm: { every: 1, unit: "month", first: "2026-09-10", until: "" },
    numberPattern: "MOOR-{yyyy}-{mm}",
    invoice: { company: "ALP", lines: [{ account: "6690", net: "100.00", taxCode: "Z" }] },
  };
  const root = await callerOf(w.database, "root");
  must(
    await saveAccount(root, {
      number: "6690",
      name: "Moorings",
      type: "expense",
      heading: must(await chart(root)).headings.find((h) => h.code.startsWith("66"))!.code,
    }),
  );
  const { id } = must(await saveRecurringInvoice(await clerk(), { template }));
  expect(codes(await deleteAccount(root, { number: "6690" }))).toEqual(["IN_USE"]);
  const params = { company: "ALP", upTo: "2026-09-30", only: [id] };
  const run = must(await proposeRun(await clerk(), { kind: "recurring-invoice", params }));
  const skip = { id, date: "2026-09-10", reason: "paid by the harbour" };
  expect(codes(await skipRecurringInvoice(await clerk(), skip))).toEqual(["IN_USE"]);
  must(await postRun(await clerk(), { key: String(run.id) }));
  expect(codes(await skipRecurringInvoice(await clerk(), skip))).toEqual(["IN_USE"]);
  expect(codes(await skipRecurringInvoice(await clerk(), { ...skip, date: "2026-09-11" }))).toEqual(
    ["INVALID"],
  );
  must(await saveRecurringInvoice(root, { id, version: 1, template }));
  const late = await saveRecurringInvoice(await clerk(), { id, version: 1, template });
  expect(late).toMatchObject({ problems: [{ code: "STALE", by: root.person.name }] });
});
