import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { LISTED_CONTROLS } from "@/core/ledger";
import { callerOf, must, BANK_OF_ALPHA } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount } from "../banks";
import { readMasters, saveDimension } from "../organisation";
import { savePartner } from "../partners";
import { createOrder, receiveOrder, saveCleanUpRule, saveShares } from "../purchasing";
import { savePurchaseItem } from "../trade";
import { proposeRun } from "../runs";
import { saveTaxCode } from "../taxes";
import { createInvoice, makePayment, saveRecurringInvoice } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const invoice = {
  company: "ALP",
  supplier: "TARN-1",
  number: "B-1",
  date: "2026-10-02",
};
const line = (account: string, more: object = {}) => ({
  account,
  dimensions: {},
  net: "10.00",
  taxCode: "Z",
  ...more,
});

beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(
    await savePartner(await clerk(), {
      code: "TARN-1",
      name: "Tarn Works",
      supplier: true,
      country: "IE",
    }),
  );
  must(await saveBankAccount(await root(), BANK_OF_ALPHA));
});

/** Each way in which a person chooses an account outside a journal, with where a fault is shown. */
const WAYS: Record<string, { field: string; choose: (account: string) => Promise<unknown> }> = {
  "an invoice": {
    field: "account",
    choose: async (a) => createInvoice(await clerk(), { ...invoice, lines: [line(a)], post: true }),
  },
  "a credit note": {
    field: "account",
    choose: async (a) =>
      createInvoice(await clerk(), {
        ...invoice,
        kind: "credit note",
        lines: [line(a)],
        post: true,
      }),
  },
  "a recurring invoice": {
    field: "account",
    choose: async (a) =>
      saveRecurringInvoice(await clerk(), {
        template: {
          name: "Rent",
          suppliers: ["TARN-1"],
          rhythm: { first: "2026-10-01" },
          numberPattern: "R-{yyyy}-{mm}",
          invoice: { ...invoice, lines: [line(a)] },
        },
      }),
  },
  "an order": {
    field: "account",
    choose: async (a) =>
      createOrder(await clerk(), {
        company: "ALP",
        supplier: "TARN-1",
        date: "2026-10-02",
        lines: [
          {
            account: a,
            dimensions: {},
            description: "Rope",
            quantity: "1",
            price: "10",
            taxCode: "Z",
          },
        ],
      }),
  },
  "a purchase item": {
    field: "account",
    choose: async (a) => savePurchaseItem(await clerk(), { code: "X", name: "X", account: a }),
  },
  shares: {
    field: "targets",
    choose: async (a) =>
      saveShares(await clerk(), {
        code: "X",
        name: "X",
        targets: [{ account: a, dimensions: {}, weight: "100" }],
      }),
  },
  "a supplier's usual coding": {
    field: "account",
    choose: async (a) =>
      savePartner(await clerk(), {
        code: "X",
        name: "Xebec Sails",
        supplier: true,
        country: "IE",
        account: a,
      }),
  },
  "a single payment": {
    field: "account",
    choose: async (a) =>
      makePayment(await clerk(), {
        company: "ALP",
        bank: "MAIN",
        date: "2026-10-10",
        supplier: a === "1430" ? "" : "TARN-1",
        payee: "Somebody",
        lines: [{ account: a, dimensions: {}, description: "x", amount: "10.00" }],
      }),
  },
  "a clean-up rule": {
    field: "account",
    choose: async (a) =>
      saveCleanUpRule(await root(), {
        place: 10,
        name: "Small",
        conditions: [{ part: "amount", by: "at most", value: "5" }],
        action: "account",
        account: a,
      }),
  },
  "an accrual at a period's end": {
    field: "account",
    choose: async (a) =>
      proposeRun(await clerk(), {
        kind: "accrual",
        params: { company: "ALP", period: "2026-10", account: a },
      }),
  },
  "the account between balancing values": {
    field: "balancingAccount",
    choose: async (a) =>
      saveDimension(await root(), {
        code: "project",
        name: "Project",
        balancing: "add",
        balancingAccount: a,
      }),
  },
};

describe("no account that a list stands behind can be chosen", () => {
  test.each(Object.keys(WAYS))("in %s", async (way) => {
    const masters = await readMasters(w.database.db);
    const { field, choose } = WAYS[way]!;
    const controls = masters.accounts.filter(
      (a) => a.control && LISTED_CONTROLS.has(a.control) && !a.blocked,
    );
    expect(new Set(controls.map((a) => a.control))).toEqual(LISTED_CONTROLS);
    for (const { number } of controls) {
      const answer = (await choose(number)) as { ok: boolean; problems: { field: string }[] };
      expect([number, answer.ok, answer.problems?.map((p) => p.field)]).toEqual([
        number,
        false,
        expect.arrayContaining([field]),
      ]);
    }
  });

  test("nor does it come in by an order placed before the rule: its receipt is refused", async () => {
    const placed = must(
      await createOrder(await clerk(), {
        company: "ALP",
        supplier: "TARN-1",
        date: "2026-10-02",
        lines: [
          {
            account: "6310",
            dimensions: { costCentre: "HARB" },
            description: "x",
            quantity: "1",
            price: "10",
            taxCode: "Z",
          },
        ],
      }),
    );
    await w.database.db.execute(
      sql`update order_line set account = '2145' where order_id = ${placed.id}`,
    );
    expect(
      await receiveOrder(await clerk(), {
        order: placed.id,
        date: "2026-10-03",
        lines: [{ no: 1, quantity: "1" }],
      }),
    ).toMatchObject({ ok: false, problems: [{ code: "CONTROL_ACCOUNT" }] });
  });
});
