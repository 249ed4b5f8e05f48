import { describe, expect, test } from "vitest";
import { callerOf, must, written, codes } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { history, readPreferences, savePreference } from "../access";
import "../closing";
import { createJournal, listJournals, saveDraft, today } from "../ledger";
import {
  dimensionTree,
  periodMatrix,
  saveAccount,
  saveCompany,
  saveDimension,
  saveDimensionValue,
} from "../organisation";
import { find } from "./index";

const w = world();

describe("finding things again", () => {
  test("a journal by number, by text, by amount with or without thousands; an account by number or name; nothing for who may not", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const posted = must(
      await createJournal(accountant, {
        ...written({ description: "Bollards at the north quay", reference: "PI-777" }),
        post: true,
      }),
    );
    for (const text of [posted.number!, "bollards", "pi-777", "48200", "48,200.00"])
      expect([
        text,
        must(await find(accountant, { text })).some((f) => f.label.includes(posted.number!)),
      ]).toEqual([text, true]);
    expect(must(await find(accountant, { text: "dredg" }))).toMatchObject([
      { kind: "Account", label: "6320 Dredging" },
    ]);
    expect(must(await find(accountant, { text: "100%_\\" }))).toEqual([]);
    expect(must(await find(await callerOf(w.database, "budget"), { text: "bollards" }))).toEqual(
      [],
    );
  });

  test("lists narrow by status, text and date, count and sum what they leave out, and page", async () => {
    const accountant = await callerOf(w.database, "accountant");
    for (let i = 0; i < 5; i++)
      must(
        await createJournal(accountant, { ...written({ description: `Series ${i}` }), post: true }),
      );
    must(
      await saveDraft(accountant, { content: written({ description: "Series draft", date: "" }) }),
    );
    const list = (more: object) =>
      listJournals(accountant, { company: "ALP", text: "series", ...more });
    const page = must(await list({ status: "posted", limit: 2 }));
    expect([page.rows.length, page.count, page.totals]).toEqual([
      2,
      5,
      [{ currency: "EUR", sums: { amount: 5n * 4_820_000n } }],
    ]);
    expect(must(await list({ status: "draft" })).rows).toMatchObject([
      { number: null, description: "Series draft" },
    ]);
    expect(must(await list({ from: "2025-01-01", to: "2025-12-31", status: "posted" })).count).toBe(
      0,
    );
    const desk = must(await today(accountant, { company: "ALP" }));
    expect(desk.mine.map((m) => m.title)).toContain("Series draft");
    expect(
      must(await today(await callerOf(w.database, "controller"), { company: "ALP" })).waiting.map(
        (m) => m.title,
      ),
    ).toContain("Series draft");
  });

  test("who did what is listed, before and after, newest first", async () => {
    const admin = await callerOf(w.database, "admin");
    must(
      await saveAccount(admin, { number: "6311", name: "Fenders", type: "expense", heading: "63" }),
    );
    must(
      await saveAccount(admin, {
        number: "6311",
        name: "Fenders and ropes",
        type: "expense",
        heading: "63",
      }),
    );
    expect(must(await history(admin, { kind: "account", limit: 1 }))).toMatchObject([
      {
        action: "changed",
        by: "Person admin",
        label: "6311",
        before: { name: "Fenders" },
        after: { name: "Fenders and ropes" },
      },
    ]);
    must(await savePreference(admin, { key: "table.x", value: "a,b|c" }));
    expect(must(await readPreferences(admin))).toEqual({ "table.x": "a,b|c" });
  });
});

describe("set-up", () => {
  test("a used account keeps its type, a used company its currency; a tree has no circle; sixteen dimensions are the most", async () => {
    const admin = await callerOf(w.database, "admin");
    expect(
      codes(
        await saveAccount(admin, { number: "6310", name: "Quay", type: "asset", heading: "63" }),
      ),
    ).toEqual(["IN_USE"]);
    expect(
      codes(
        await saveCompany(admin, { code: "ALP", name: "Alpha", currency: "GBP", country: "DE" }),
      ),
    ).toEqual(["IN_USE"]);
    expect(
      codes(await saveCompany(admin, { code: "NEW", name: "New", currency: "XXX", country: "DE" })),
    ).toEqual(["CURRENCY_UNKNOWN"]);
    expect(
      codes(
        await saveDimensionValue(admin, {
          dimension: "costCentre",
          code: "OPS",
          name: "Operations",
          parent: "VESS",
          blocked: true,
        }),
      ),
    ).toEqual(["INVALID"]);
    for (let i = 3; i <= 16; i++)
      must(await saveDimension(admin, { code: `dim${i}`, name: `Dim ${i}` }));
    expect(codes(await saveDimension(admin, { code: "dim17", name: "Dim 17" }))).toEqual([
      "INVALID",
    ]);
    const tree = must(await dimensionTree(admin));
    expect(tree[0]!.values.map((v) => [v.code, v.depth])).toEqual([
      ["OPS", 0],
      ["HARB", 1],
      ["VESS", 1],
      ["ADM", 0],
    ]);
    expect(must(await periodMatrix(admin, { company: "ALP" }))).toMatchObject({
      next: { name: "2027", start: "2027-01-01" },
      may: [],
      mayAddYear: true,
    });
  });
});
