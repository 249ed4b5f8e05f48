import { beforeAll, expect, test, inject } from "vitest";
import { thingsOfAlpha, type ThingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { approveDocument, saveApprovalRule } from "../approvals";
import { createJournal, getJournal, saveDraft, submitDraft } from "../ledger";
import { verify } from "../verify";
import { allocateItems, ageing, openItems } from "../openItems";
import { switchPeriods } from "../organisation";
import { cancelInvoice, createInvoice, makePayment, postInvoice, saveInvoice } from "../payables";
import { postRun, proposeRun } from "../runs";
import { cancelGoodsReceipt, createOrder, listGrni, receiveOrder } from "./index";
import { reversePayment } from "../banks";

const w = world();
const as = (login: string) => callerOf(w.database, login);
let t: ThingsOfAlpha;
beforeAll(async () => {
  t = await thingsOfAlpha(w.database);
});

// The embedded database does one after the other: there it is enough to see that none hangs.
const ROUNDS = inject("server") ? 6 : 2;
type Outcome = { ok: boolean; problems?: readonly { code: string }[] };
/** Two acts at the same moment, one of them a little later in each round. */
async function race(
  first: () => Promise<Outcome>,
  second: () => Promise<Outcome>,
  round: number,
): Promise<boolean[]> {
  const later = (act: () => Promise<Outcome>, by: number) =>
    new Promise<Outcome>((resolve, reject) => {
      setTimeout(() => act().then(resolve, reject), by);
    });
  const [a, b] = await Promise.all([
    later(first, round % 2 === 0 ? 0 : round * 2),
    later(second, round % 2 === 0 ? round * 2 : 0),
  ]);
  // Whoever comes second is told what has happened; a guard of the database is the last net.
  const said = [a, b].flatMap((o) => o.problems?.map((p) => p.code) ?? []);
  expect(said).not.toContain("UNAVAILABLE");
  return [a.ok, b.ok];
}
const whole = async () => {
  const company = "ALP";
  const grni = must(await listGrni(await as("payables"), { company, on: "2026-10-31" }));
  const aged = must(
    await ageing(await as("payables"), { company, area: "payables", on: "2026-10-31" }),
  );
  expect([
    grni.agrees,
    aged.agrees,
    (await verify(w.database.db)).flatMap((c) => c.faults),
  ]).toEqual([true, true, []]);
};

const itemsOfTra = async () =>
  must(
    await openItems(await as("payables"), {
      company: "ALP",
      area: "payables",
      on: "2026-10-31",
      partner: "TRA",
    }),
  );
const payByHand = async (what: object) =>
  makePayment(await as("payables"), {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-16",
    supplier: "TRA",
    method: "manual",
    ...what,
  });

let n = 0;
const invoiceOf = (more: object = {}) => ({ ...t.invoiceContent, number: `R-${++n}`, ...more });
async function received(quantity: string) {
  const order = must(await createOrder(await as("payables"), t.orderContent));
  const lines = [{ no: 1, quantity }];
  const receipt = must(
    await receiveOrder(await as("payables"), { order: order.id, date: "2026-10-05", lines }),
  );
  return { order, receipt };
}
const billing = (order: string, quantity: string) =>
  invoiceOf({
    date: "2026-10-08",
    lines: [{ order: `${order}/1`, quantity, net: `${Number(quantity) * 10}.00`, taxCode: "S" }],
  });

test("an invoice is posted while its receipt is cancelled: one of the two", async () => {
  for (let round = 0; round < ROUNDS; round++) {
    const { order, receipt } = await received("4");
    const content = billing(order.number, "4");
    const kept = must(await saveInvoice(await as("payables"), { content }));
    const [posted, cancelled] = await race(
      async () => {
        const result = await postInvoice(await as("payables"), {
          id: kept.id,
          version: kept.version,
          content,
        });
        // Held: nothing was taken.
        return result.ok ? { ok: !result.value.held } : result;
      },
      async () =>
        cancelGoodsReceipt(await as("payables"), { id: receipt.id, reason: "entered twice" }),
      round,
    );
    expect([posted, cancelled].filter(Boolean)).toHaveLength(1);
  }
  await whole();
});

test("two invoices bill the same receipt: one of the two", async () => {
  for (let round = 0; round < ROUNDS; round++) {
    const { order } = await received("4");
    const bill = async () => {
      const result = await createInvoice(await as("payables"), {
        ...billing(order.number, "4"),
        post: true,
      });
      return result.ok ? { ok: result.value.status === "posted" } : result;
    };
    expect((await race(bill, bill, round)).filter(Boolean)).toHaveLength(1);
  }
  await whole();
});

test("an invoice is paid by hand, by a run, set off and cancelled: never more than it was", async () => {
  for (let round = 0; round < ROUNDS; round++) {
    const invoice = must(
      await createInvoice(await as("payables"), { ...invoiceOf({ supplier: "TRA" }), post: true }),
    );
    const items = await itemsOfTra();
    const item = items.find((i) => i.documentId === invoice.id)!;
    const acts: (() => Promise<Outcome>)[] = [
      async () => payByHand({ items: [{ id: item.id, amount: "123.00" }] }),
      async () => {
        const run = await proposeRun(await as("root"), {
          kind: "payment",
          params: {
            company: "ALP",
            bank: "MAIN",
            date: "2026-10-16",
            next: "2026-10-30",
            items: [item.id],
          },
        });
        return run.ok ? postRun(await as("root"), { key: String(run.value.id) }) : run;
      },
      async () => cancelInvoice(await as("payables"), { id: invoice.id, reason: "entered twice" }),
    ];
    const done = await race(acts[round % 3]!, acts[(round + 1) % 3]!, round);
    expect(done.filter(Boolean).length).toBeLessThanOrEqual(1);
  }
  await whole();
});

test("a journal is posted while its period closes: in the open one or not at all", async () => {
  const periods = ["2026-09"];
  const area = { company: "ALP", book: "all", area: "ledger", periods };
  for (let round = 0; round < ROUNDS; round++) {
    await race(
      async () => createJournal(await as("root"), { ...t.content, date: "2026-09-15", post: true }),
      async () =>
        switchPeriods(await as("controller"), { ...area, to: "closing", reason: "month end" }),
      round,
    );
    await switchPeriods(await as("controller"), {
      ...area,
      to: "open",
      reason: "goes on after it",
    });
  }
  await whole();
});

test("a journal is approved while its writer takes it back and changes it: what was approved is posted", async () => {
  must(
    await saveApprovalRule(await as("root"), {
      type: "general",
      company: "ALP",
      minimum: "1.00",
      currency: "EUR",
      role: "controller",
    }),
  );
  const small = (debit: string) => ({
    ...t.content,
    lines: [
      { ...t.content.lines[0]!, debit },
      { ...t.content.lines[1]!, credit: debit },
    ],
  });
  for (let round = 0; round < ROUNDS; round++) {
    const draft = must(await saveDraft(await as("accountant"), { content: small("100.00") }));
    must(
      await submitDraft(await as("accountant"), {
        id: draft.id,
        version: draft.version,
        content: small("100.00"),
      }),
    );
    const [approved] = await race(
      async () => approveDocument(await as("controller"), { id: draft.id }),
      async () =>
        saveDraft(await as("accountant"), {
          id: draft.id,
          version: 9,
          overwrite: true,
          content: small("900.00"),
        }),
      round,
    );
    expect(approved).toBe(true);
    expect(must(await getJournal(await as("root"), { key: String(draft.id) }))).toMatchObject({
      kind: "posted",
      total: 10_000n,
    });
  }
  await whole();
});

test("an advance is set against an invoice while its payment is reversed: one of the two", async () => {
  for (let round = 0; round < ROUNDS; round++) {
    const paid = must(
      await payByHand({
        lines: [{ account: "1430", dimensions: {}, description: "In advance", amount: "10.00" }],
      }),
    );
    must(
      await createInvoice(await as("payables"), {
        ...invoiceOf({ supplier: "TRA", controlAccount: "2140" }),
        post: true,
      }),
    );
    const items = await itemsOfTra();
    const advance = items.filter((i) => i.left === 1_000n).sort((a, b) => b.id - a.id)[0];
    const owed = items.find((i) => i.left < -1_000n && i.hold === "")!;
    const done = await race(
      async () =>
        allocateItems(await as("payables"), {
          date: "2026-10-20",
          pairs: [{ first: advance!.id, second: owed.id, amount: "10.00" }],
        }),
      async () =>
        reversePayment(await as("payables"), { id: paid.id, reason: "not wanted after all" }),
      round,
    );
    expect(done.filter(Boolean).length).toBeGreaterThan(0);
  }
  await whole();
});
