import { describeFound, endOfMonth, addDays, type CalendarDate, type Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { addPartnerBank, decidePartnerBank, savePartner } from "@/server/partners";
import { createInvoice, saveInvoice, saveRecurringInvoice, sendAdvices } from "@/server/payables";
import {
  closeOrder,
  placeOrder,
  receiveOrder,
  saveCleanUpRule,
  saveOrder,
  saveShares,
  saveTolerance,
  submitOrder,
} from "@/server/purchasing";
import { savePurchaseItem } from "@/server/trade";
import { workOnAll } from "@/server/jobs";
import { holdItem, openItems } from "@/server/openItems";
import { changeRun, listRunItems, postRun, proposeRun } from "@/server/runs";
import {
  demoItems,
  demoRules,
  demoShares,
  demoTemplates,
  demoTolerances,
  orderSuppliers,
  purchasesOf,
} from "./purchasing";
import { makePaymentFile, paymentsOfRun, printCheques } from "@/server/banks";

/** Who works, on a day and hour of the scenario. */
export type At = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;
const must = <T>(result: Result<T>, what: string): T => {
  if (!result.ok)
    throw new Error(`${what}: ${result.problems.slice(0, 5).map(describeFound).join(" ")}`);
  return result.value;
};

/** Suppliers, items and rules that buying rests on. */
export async function setUpBuying(at: At): Promise<void> {
  const controller = await at("controller", "2025-10-20");
  const clerk = await at("payables", "2025-10-20");
  for (const { iban, ...p } of orderSuppliers) {
    must(await savePartner(clerk, p), p.name);
    if (iban)
      must(
        await decidePartnerBank(controller, {
          id: must(await addPartnerBank(clerk, { partner: p.code, iban, holder: p.name }), iban).id,
          to: "confirmed",
        }),
        iban,
      );
  }
  for (const i of demoItems) must(await savePurchaseItem(clerk, i), i.code);
  for (const t of demoTolerances) must(await saveTolerance(controller, t), "tolerance");
  for (const s of demoShares) must(await saveShares(clerk, s), s.code);
  for (const r of demoRules) must(await saveCleanUpRule(controller, r), r.name);
}

/** One month of orders, receipts and invoices as they came, and the payment run at its end. */
export async function buyFor(
  at: At,
  month: string,
  index: number,
  lastDay: CalendarDate,
): Promise<void> {
  for (const p of purchasesOf(month, index)) {
    if (p.on > lastDay) continue;
    const clerk = await at("payables", p.on);
    const kept = must(await saveOrder(clerk, { content: p.order }), "order");
    const order = must(
      await placeOrder(clerk, { id: kept.id, version: kept.version, content: p.order }),
      "order placed",
    );
    for (const r of p.received)
      if (r.on <= lastDay)
        must(
          await receiveOrder(await at("payables", r.on, 14), {
            order: order.id,
            date: r.on,
            note: `N ${order.number.slice(-4)}`,
            lines: [{ no: 1, quantity: String(r.quantity) }],
          }),
          order.number,
        );
    for (const b of p.billed) {
      if (b.on > lastDay) continue;
      const cents = Math.round(b.quantity * Math.round(Number(b.price) * 100));
      must(
        await createInvoice(await at("payables", b.on, 15), {
          company: "HSF",
          supplier: p.order.supplier,
          number: b.number,
          date: b.on,
          lines: [
            {
              order: `${order.number}/1`,
              quantity: String(b.quantity),
              net: `${Math.floor(cents / 100)}.${String(cents % 100).padStart(2, "0")}`,
              taxCode: "S23",
            },
          ],
          post: true,
        }),
        b.number,
      );
    }
    if (p.close)
      must(
        await closeOrder(await at("payables", p.on, 16), { id: order.id, to: "closed" }),
        order.number,
      );
  }
  // What fell due is paid at the end of the month; the last one is left for the next run.
  if (month < "2025-12" || month > "2026-09") return;
  const day = addDays(endOfMonth(`${month}-01`), -2);
  const clerk = await at("payables", day, 17);
  const run = must(
    await proposeRun(clerk, {
      kind: "payment",
      params: {
        company: "HSF",
        bank: "HSF-MAIN",
        date: day,
        next: addDays(day, 7),
        suppliers: orderSuppliers.map((s) => s.code),
      },
    }),
    "payment run",
  );
  if (month === "2026-09") {
    // One is paid in part: the rest stays due.
    const asked = { company: "HSF", run: String(run.id), status: "in" };
    const { rows } = must(await listRunItems(clerk, asked), "payment run");
    const part = rows.find((i) => i.amount > 40_000n)!;
    must(
      await changeRun(clerk, {
        key: String(run.id),
        dropped: [],
        amounts: { [part.key.replace("item", "pay")]: "250.00" },
      }),
      "part payment",
    );
  }
  const { bank, cheques } = must(await paymentsOfRun(clerk, { run: run.id }), "payment run");
  if (cheques.length === 0) await printCheques(clerk, { run: run.id, first: bank.lastCheque + 1 });
  must(await postRun(clerk, { key: String(run.id) }), "payment run");
  must(await makePaymentFile(clerk, { run: run.id }), "file");
  must(await sendAdvices(clerk, { run: run.id }), "advices");
  await workOnAll(clerk.database, clerk.now);
}

/**
 * What is going on in buying on the day of the demo: a request, a draft, an invoice that is held, a
 * dispute, templates.
 */
export async function openBuying(at: At, today: CalendarDate): Promise<void> {
  const clerk = await at("payables", today, 11);
  for (const template of demoTemplates)
    must(await saveRecurringInvoice(clerk, { template }), template.name);
  const pump = {
    company: "HSF",
    date: "2 Nov 2026",
    wanted: "20 Nov 2026",
    description: "Bilge pumps, MV Lantern",
    lines: [{ item: "PUMP", quantity: "30" }],
  };
  const request = must(await saveOrder(clerk, { kind: "request", content: pump }), "request");
  must(
    await submitOrder(clerk, { id: request.id, version: request.version, content: pump }),
    "request",
  );
  const lamps = {
    company: "HSF",
    supplier: "S-135",
    date: "3 Nov 2026",
    wanted: "12 Nov 2026",
    description: "Deck lamps, MV Curlew",
    lines: [{ item: "LAMP", quantity: "12" }],
  };
  const order = must(await saveOrder(clerk, { content: lamps }), "lamps");
  const placed = must(
    await placeOrder(clerk, { id: order.id, version: order.version, content: lamps }),
    "lamps",
  );
  must(
    await receiveOrder(clerk, {
      order: placed.id,
      date: "2026-11-04",
      note: "NL 318",
      lines: [{ no: 1, quantity: "10" }],
    }),
    "lamps",
  );
  // Twelve billed, ten here, and dearer than ordered: held.
  must(
    await createInvoice(clerk, {
      company: "HSF",
      supplier: "S-135",
      number: "NL-20981",
      date: "4 Nov 2026",
      lines: [{ order: `${placed.number}/1`, quantity: "12", net: "1,440.00", taxCode: "S23" }],
      post: true,
    }),
    "held",
  );
  // The same paper once more, typed a little differently: pointed out while it is entered.
  must(
    await saveInvoice(clerk, {
      content: {
        company: "HSF",
        supplier: "S-112",
        number: "OE 26/1093",
        date: "4 Nov 2026",
        total: "14,350.00",
        description: "Injectors",
        lines: [
          {
            account: "6430",
            dimensions: { costCentre: "V-LAN" },
            description: "Injectors, set",
            net: "14,350.00",
            taxCode: "RC23",
          },
        ],
      },
    }),
    "copy",
  );
  must(
    await saveOrder(clerk, {
      content: {
        company: "HSF",
        supplier: "S-123",
        date: "4 Nov 2026",
        description: "Signs for the north terminal",
        lines: [{ item: "SIGN", quantity: "4" }],
      },
    }),
    "draft",
  );
  const [disputed] = must(
    await openItems(clerk, { company: "HSF", area: "payables", on: today }),
    "items",
  ).filter((i) => i.partner > "S-119" && i.partner < "S-144" && i.left < 0n);
  if (disputed)
    must(
      await holdItem(clerk, { id: disputed.id, reason: "Disputed: two boxes were wet" }),
      "dispute",
    );
}
