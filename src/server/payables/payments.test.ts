import { beforeAll, describe, expect, test } from "vitest";
import {
  callerOf,
  must,
  codes,
  BANK_OF_ALPHA,
  proposalOf,
  STANDARD_TAX,
} from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { faultsOfTransferFile } from "../../../tests/strictBankFile";
import { deleteApprovalRule, listApprovalRules, saveApprovalRule } from "../approvals";
import {
  listBankAccounts,
  saveBankAccount,
  cancelCheque,
  chequesPdf,
  getPayment,
  getPaymentFile,
  listPayments,
  makePaymentFile,
  paymentsOfRun,
  printCheques,
  recallPayment,
  rejectPayment,
  reversePayment,
  voidCheque,
  type PaymentRunDetail,
} from "../banks";
import { getJournal } from "../ledger";
import { verify } from "../verify";
import { ageing, holdItem, openItems } from "../openItems";
import { savePair } from "../organisation";
import { addPartnerBank, decidePartnerBank, getPartner, savePartner, saveTerms } from "../partners";
import { changeRun, discardRun, getRun, postRun, proposeRun, reverseRun } from "../runs";
import {
  cancelInvoice,
  createInvoice,
  payablesSettings,
  savePayablesSettings,
  sendAdvices,
} from "./index";
import { workOnAll } from "../jobs";
import { listOutbox } from "../letters";
import { saveTaxCode, taxSummary } from "../taxes";

const MAIN = {
  ...BANK_OF_ALPHA,
  iban: "DE02500105170137075030",
  overdraft: "50,000.00",
  refuse: true,
  lastCheque: 1040,
  chequeSort: "990017",
  chequeAccount: "12345678",
};
const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
let n = 0;
async function invoice(supplier: string, net: string, date: string, more: object = {}) {
  const made = must(
    await createInvoice(await clerk(), {
      company: "ALP",
      supplier,
      number: `N-${++n}`,
      date,
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "S" }],
      ...more,
      post: true,
    }),
  );
  return { id: made.id, number: `N-${n}` };
}
const params = (more: object = {}) => ({
  company: "ALP",
  bank: "MAIN",
  date: "2026-10-15",
  next: "2026-10-22",
  ...more,
});
const propose = async (more: object = {}) =>
  proposeRun(await clerk(), { kind: "payment", params: params(more) });
const itemsOf = async (key: number) => (await proposalOf(await clerk(), key)).items;
const left = async (supplier: string) =>
  must(
    await openItems(await clerk(), {
      company: "ALP",
      area: "payables",
      on: "2026-10-31",
      partner: supplier,
    }),
  ).map((i) => [i.reference, i.left]);
const whole = async () => {
  const a = must(
    await ageing(await clerk(), { company: "ALP", area: "payables", on: "2026-10-31" }),
  );
  expect([a.agrees, (await verify(w.database.db)).flatMap((c) => c.faults)]).toEqual([true, []]);
};

beforeAll(async () => {
  must(await saveTaxCode(await root(), STANDARD_TAX));
  must(
    await saveTerms(await clerk(), {
      code: "2-10",
      name: "2 % in 10 days",
      terms: {
        instalments: [{ percent: "100", days: 30 }],
        discounts: [{ percent: "2", days: 10 }],
      },
    }),
  );
  for (const [code, method] of [
    ["TRA", "transfer"],
    ["CHQ", "cheque"],
    ["CH2", "cheque"],
    ["OWES", "transfer"],
  ] as const)
    must(
      await savePartner(await clerk(), {
        code,
        name: `Supplier ${code}`,
        supplier: true,
        country: "DE",
        method,
        email: method === "cheque" ? `${code.toLowerCase()}@supplier.example` : "",
      }),
    );
  for (const [partner, iban] of [
    ["TRA", "DE75512108001245126199"],
    ["OWES", "DE02120300000000202051"],
  ] as const)
    must(
      await decidePartnerBank(await root(), {
        id: must(await addPartnerBank(await clerk(), { partner, iban })).id,
        to: "confirmed",
      }),
    );
  must(await saveBankAccount(await root(), MAIN));
});

describe("payment runs", () => {
  test("a run cut down, part-paid, printed, one cheque spoilt and printed anew, posted; one payment reversed; open items equal the control account throughout", async () => {
    const a = await invoice("CHQ", "1,000.00", "2026-09-01");
    await invoice("CHQ", "200.00", "2026-09-05");
    await invoice("CH2", "300.00", "2026-09-01");
    await invoice("TRA", "1,000.00", "2026-10-06", { terms: "2-10" });
    const held = await invoice("TRA", "50.00", "2026-09-01");
    const [heldItem] = must(
      await openItems(await clerk(), {
        company: "ALP",
        area: "payables",
        on: "2026-10-31",
        partner: "TRA",
      }),
    ).filter((i) => i.reference === held.number);
    must(await holdItem(await clerk(), { id: heldItem!.id, reason: "two crates missing" }));
    const run = must(await propose());
    const items = await itemsOf(run.id);
    expect(items.map((i) => [i.group, i.amount, i.leftOut ?? i.why])).toEqual([
      ["Supplier CH2", 36_900n, "overdue since 1 Oct 2026"],
      ["Supplier CHQ", 123_000n, "overdue since 1 Oct 2026"],
      ["Supplier CHQ", 24_600n, "overdue since 5 Oct 2026"],
      ["Supplier TRA", 120_540n, "discount until 16 Oct 2026"],
      ["Supplier TRA", 5_000n + 1_150n, "it is on hold: two crates missing"],
    ]);
    // Two people at once: the second finds everything taken.
    expect(
      (await itemsOf(must(await propose()).id)).every(
        (i) => i.leftOut?.includes(run.number) || i.leftOut?.includes("hold"),
      ),
    ).toBe(true);
    expect(codes(await postRun(await clerk(), { key: String(run.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    const key = (label: string) => items.find((i) => i.label === label)!.key;
    const second = items[2]!;
    must(
      await changeRun(await clerk(), {
        key: String(run.id),
        dropped: [second.key],
        amounts: { [key(a.number).replace("item", "pay")]: "230.00" },
      }),
    );
    expect(must(await printCheques(await clerk(), { run: run.id, first: 1041 }))).toEqual({
      from: 1041,
      to: 1042,
    });
    expect(codes(await printCheques(await clerk(), { run: run.id, first: 1043 }))).toEqual([
      "IN_USE",
    ]);
    expect(
      codes(await changeRun(await clerk(), { key: String(run.id), dropped: [], amounts: {} })),
    ).toEqual(["RUN_STANDS_IN_WAY"]);
    expect(codes(await discardRun(await clerk(), { key: String(run.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    const cheques = must(await paymentsOfRun(await clerk(), { run: run.id })).cheques;
    const spoilt = cheques.find((c) => c.payee === "Supplier CHQ")!;
    expect(
      codes(await voidCheque(await clerk(), { id: spoilt.id, reason: "x", then: "print anew" })),
    ).toEqual(["REASON_REQUIRED"]);
    expect(
      codes(
        await voidCheque(await clerk(), {
          id: spoilt.id,
          reason: "jammed in the printer",
          then: "print anew",
          next: 1041,
        }),
      ),
    ).toEqual(["IN_USE"]);
    expect(
      must(
        await voidCheque(await clerk(), {
          id: spoilt.id,
          reason: "jammed in the printer",
          then: "print anew",
        }),
      ),
    ).toEqual({ number: 1043 });
    expect(
      codes(
        await voidCheque(await clerk(), {
          id: spoilt.id,
          reason: "jammed in the printer",
          then: "print anew",
        }),
      ),
    ).toEqual(["RUN_STATE"]);
    const pages = async (more: object) => {
      const pdf = await chequesPdf(await clerk(), { run: run.id, ...more });
      if (!pdf.ok) return codes(pdf)[0];
      const text = Buffer.from(pdf.value.content).toString("latin1");
      return text.startsWith("%PDF-") && (text.match(/\/Type \/Page\b/g)?.length ?? 0);
    };
    // Originals that are not printed come out alone, and once; copies of those that are.
    const originals = await pages({ fresh: true });
    expect([originals, await pages({ fresh: true }), await pages({ fresh: false })]).toEqual([
      2,
      "NOT_FOUND",
      2,
    ]);
    must(await postRun(await clerk(), { key: String(run.id) }));
    await whole();
    expect(await left("CHQ")).toEqual([
      [a.number, -100_000n],
      [second.label, -24_600n],
    ]);
    expect(await left("TRA")).toEqual([[held.number, -6_150n]]);
    const made = must(await paymentsOfRun(await clerk(), { run: run.id })).payments;
    expect(made.map((p) => [p.payee, p.amount, p.discount, p.cheque, p.status])).toEqual([
      ["Supplier CH2", 36_900n, 0n, 1041, "posted"],
      ["Supplier CHQ", 23_000n, 0n, 1043, "posted"],
      ["Supplier TRA", 120_540n, 2_460n, null, "posted"],
    ]);
    // The discount takes its tax back, in the books and in the tax summary.
    const view = must(await getPayment(await clerk(), { id: made[2]!.id }));
    const journal = must(await getJournal(await root(), { key: view.journals[0]!.number }));
    expect(
      journal.kind === "posted" && journal.lines.map((l) => `${l.account} ${l.side} ${l.amount}`),
    ).toEqual(["2140 debit 123000", "1120 credit 120540", "1410 credit 460", "8560 credit 2000"]);
    const tax = async () =>
      must(
        await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
      ).rows.reduce((t, r) => t + r.tax, 0n);
    expect(await tax()).toBe(23_000n - 460n);
    const control = async () =>
      must(
        await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
      ).accounts.map((t) => [t.account, t.recorded, t.movement, t.agrees]);
    expect(await control()).toEqual([["1410", 22_540n, 22_540n, true]]);
    const advise = async (of: object) => sendAdvices(await clerk(), of);
    const told = async () =>
      must(await listOutbox(await clerk(), { company: "ALP" })).map((m) => m.to);
    expect(must(await advise({ run: run.id }))).toEqual({
      advices: 2,
      without: ["Supplier TRA"],
    });
    expect(codes(await advise({ run: run.id }))).toEqual(["INVALID"]);
    // One that goes out by itself meanwhile does not go out again with the others.
    must(await advise({ payment: made[0]!.id }));
    expect(await told()).toHaveLength(1);
    await workOnAll(w.database);
    expect(must(await advise({ run: run.id }))).toEqual({
      advices: 0,
      without: ["Supplier TRA"],
    });
    expect(await told()).toEqual(["chq@supplier.example", "ch2@supplier.example"]);
    // What is paid cannot be cancelled; the payment is undone first.
    expect(
      codes(await cancelInvoice(await clerk(), { id: a.id, reason: "wrong supplier" })),
    ).toEqual(["ITEM_ALLOCATED"]);
    must(await reversePayment(await clerk(), { id: made[2]!.id, reason: "paid twice by mistake" }));
    expect(
      codes(
        await reversePayment(await clerk(), { id: made[2]!.id, reason: "paid twice by mistake" }),
      ),
    ).toEqual(["IN_USE"]);
    expect(await tax()).toBe(23_000n);
    expect(await control()).toEqual([["1410", 23_000n, 23_000n, true]]);
    expect((await left("TRA")).map((l) => l[1])).toEqual([-6_150n, -123_000n]);
    must(await cancelCheque(await clerk(), { payment: made[0]!.id, reason: "lost in the post" }));
    expect(await left("CH2")).toMatchObject([[expect.any(String), -36_900n]]);
    await whole();
    // The run as a whole takes back what still stands.
    must(await reverseRun(await clerk(), { key: String(run.id), reason: "wrong bank account" }));
    expect(await left("CHQ")).toEqual([
      [a.number, -123_000n],
      [second.label, -24_600n],
    ]);
    expect(
      must(await listPayments(await clerk(), { company: "ALP" }))
        .rows.map((p) => p.status)
        .sort(),
    ).toEqual(["cancelled", "reversed", "reversed"]);
    await whole();
  });

  test("a file that was sent is undone only by rejection or recall; it stays as it was made", async () => {
    const run = must(await propose({ method: "transfer" }));
    must(await postRun(await clerk(), { key: String(run.id) }));
    const file = must(await makePaymentFile(await clerk(), { run: run.id }));
    expect(
      faultsOfTransferFile(must(await getPaymentFile(await clerk(), { id: file.id })).content),
    ).toEqual([]);
    expect(codes(await makePaymentFile(await clerk(), { run: run.id }))).toEqual(["IN_USE"]);
    const [payment] = must(await paymentsOfRun(await clerk(), { run: run.id })).payments;
    expect(payment!.status).toBe("sent");
    expect(
      codes(await reversePayment(await clerk(), { id: payment!.id, reason: "not wanted" })),
    ).toEqual(["IN_USE"]);
    expect(
      codes(await reverseRun(await clerk(), { key: String(run.id), reason: "not wanted" })),
    ).toEqual(["RUN_STANDS_IN_WAY"]);
    must(
      await rejectPayment(await clerk(), {
        id: payment!.id,
        reason: "account closed",
        date: "2026-10-16",
      }),
    );
    expect(
      codes(await recallPayment(await clerk(), { id: payment!.id, reason: "account closed" })),
    ).toEqual(["IN_USE"]);
    expect((await left("TRA")).length).toBe(2);
    must(await reverseRun(await clerk(), { key: String(run.id), reason: "nothing is left of it" }));
    await whole();
  });

  test("refuses a run beyond the limit of the account, and one that the ledger has moved under", async () => {
    await invoice("CH2", "200,000.00", "2026-09-02");
    const run = must(await propose());
    expect(codes(await postRun(await clerk(), { key: String(run.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    must(await discardRun(await clerk(), { key: String(run.id) }));
    const limited = async (largestPayment: string) => {
      const { lastCheque, version } = must(await listBankAccounts(await root())).find(
        (b) => b.code === "MAIN",
      )!;
      must(await saveBankAccount(await root(), { ...MAIN, lastCheque, largestPayment, version }));
    };
    await limited("90.00");
    const small = must(await propose({ method: "transfer" }));
    expect(must(await getRun(await clerk(), { key: String(small.id) })).head.blocks).toEqual([
      expect.stringMatching(
        /^The payment of .* EUR to .* is larger than 90\.00 EUR, the largest from/,
      ),
    ]);
    expect(codes(await postRun(await clerk(), { key: String(small.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    must(await discardRun(await clerk(), { key: String(small.id) }));
    await limited("");
    const other = must(await propose({ method: "transfer" }));
    const [item] = (await itemsOf(other.id)).filter((i) => i.leftOut === undefined);
    must(
      await holdItem(await clerk(), {
        id: Number(item!.key.split("|")[1]),
        reason: "disputed since",
      }),
    );
    expect(codes(await postRun(await clerk(), { key: String(other.id) }))).toEqual(["RUN_MOVED"]);
    must(await holdItem(await clerk(), { id: Number(item!.key.split("|")[1]) }));
    // What has come since the preview waits for the next run and does not stand in the way.
    await invoice("TRA", "77.00", "2026-09-02");
    must(await postRun(await clerk(), { key: String(other.id) }));
    expect((await left("TRA")).map((l) => l[1])).toEqual([-6_150n, -9_471n]);
    must(
      await reverseRun(await clerk(), { key: String(other.id), reason: "so that the others pay" }),
    );
  });

  test("above an amount a second person posts it, but nobody who entered a bank account that it pays to", async () => {
    must(
      await saveApprovalRule(await root(), {
        type: "payment",
        minimum: "1,000.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    const run = must(await propose({ method: "transfer" }));
    expect(codes(await postRun(await clerk(), { key: String(run.id) }))).toEqual(["RUN_APPROVAL"]);
    must(
      await decidePartnerBank(await clerk(), {
        id: must(
          await addPartnerBank(await root(), { partner: "TRA", iban: "DE02100100100006820101" }),
        ).id,
        to: "confirmed",
      }),
    );
    expect(codes(await postRun(await root(), { key: String(run.id) }))).toEqual(["RUN_MOVED"]);
    must(await discardRun(await clerk(), { key: String(run.id) }));
    const again = must(await propose({ method: "transfer" }));
    expect(
      must(await getRun(await clerk(), { key: String(again.id) })).head.warnings.join(" "),
    ).toContain("The bank account of Supplier TRA is new: entered by Root Builder");
    expect(codes(await postRun(await root(), { key: String(again.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    must(await postRun(await callerOf(w.database, "controller"), { key: String(again.id) }));
    await whole();
  });

  test("one company pays for another: both owe each other the same, and a cheque is cancelled after a second look where the account says so", async () => {
    must(
      await savePair(await root(), {
        first: "ALP",
        second: "BET",
        firstDueFrom: "1340",
        firstDueTo: "2150",
        secondDueFrom: "1340",
        secondDueTo: "2150",
      }),
    );
    const {
      version,
      signed: _s,
      companyId: _c,
      companyName: _n,
      id: _i,
      beyond: _b,
      reviews: _k,
      ...bank
    } = must(await listBankAccounts(await root())).find((b) => b.code === "MAIN")!;
    must(
      await saveBankAccount(await root(), {
        ...bank,
        overdraft: "900,000.00",
        reviews: ["cheques"],
        version,
      }),
    );
    must(
      (await invoice("CHQ", "10.00", "2026-09-03")) &&
        (await saveBankAccount(await root(), {
          code: "BETBANK",
          name: "Yard account",
          company: "BET",
          currency: "GBP",
          account: "1110",
          underWayAccount: "1120",
          overdraft: "900,000.00",
        })),
    );
    // Without a rate nothing comes out of it, least of all the same figure in the other currency;
    // a rate that is too old is none.
    const { loadRates } = await import("../rates");
    const rate = async (date: string) =>
      must(
        await loadRates(await root(), {
          rows: [{ kind: "spot", base: "EUR", quote: "GBP", date, rate: "0.85" }],
          take: true,
        }),
      );
    for (const prepare of [async () => {}, () => rate("2026-10-01")]) {
      await prepare();
      const without = must(await propose({ bank: "BETBANK", suppliers: ["CHQ"] }));
      expect(new Set((await itemsOf(without.id)).map((i) => i.leftOut))).toEqual(
        new Set(["no rate from EUR to GBP is known"]),
      );
      must(await discardRun(await clerk(), { key: String(without.id) }));
    }
    await rate("2026-10-14");
    const run = must(await propose({ bank: "BETBANK", suppliers: ["CHQ"] }));
    const detail = must(await getRun(await root(), { key: String(run.id) }))
      .detail as PaymentRunDetail;
    expect(detail.payments[0]!.drafts).toEqual([0, 1]);
    // What a second person has to release gets neither numbers nor originals before that.
    const first = { run: run.id, first: 7 };
    expect(codes(await printCheques(await clerk(), first))).toEqual(["IN_USE"]);
    expect(codes(await chequesPdf(await clerk(), { run: run.id }))).toEqual(["NOT_FOUND"]);
    const posted = must(
      await postRun(await callerOf(w.database, "controller"), { key: String(run.id) }),
    );
    must(await printCheques(await clerk(), first));
    const papers = must(await paymentsOfRun(await clerk(), { run: run.id }));
    expect(papers.cheques.map((c) => [c.number, c.state, c.paymentId])).toEqual([
      [7, "printed", papers.payments[0]!.id],
    ]);
    expect(codes(await printCheques(await clerk(), { run: run.id, first: 8 }))).toEqual(["IN_USE"]);
    expect(posted.journals.map((j) => j.slice(0, 3))).toEqual(["ALP", "BET"]);
    await whole();
    must(await reverseRun(await clerk(), { key: String(run.id), reason: "the yard does not pay" }));
    for (const rule of must(await listApprovalRules(await root())).filter(
      (r) => r.type === "payment",
    ))
      must(await deleteApprovalRule(await root(), { id: rule.id }));
    const own = must(await propose({ suppliers: ["CHQ", "CH2"], method: "cheque" }));
    // Numbers that are passed over are asked for and noted; too many are a slip.
    const { lastCheque } = must(await paymentsOfRun(await clerk(), { run: own.id })).bank;
    const gap = { run: own.id, first: lastCheque + 3 };
    expect(codes(await printCheques(await clerk(), gap))).toEqual(["REQUIRED"]);
    expect(
      codes(
        await printCheques(await clerk(), { ...gap, first: lastCheque + 5_000, missing: "lost" }),
      ),
    ).toEqual(["INVALID"]);
    must(await printCheques(await clerk(), { ...gap, missing: "torn at the fold" }));
    expect(
      must(await paymentsOfRun(await clerk(), { run: own.id }))
        .cheques.filter((c) => c.state === "missing")
        .map((c) => [c.number, c.reason]),
    ).toEqual([
      [lastCheque + 1, "torn at the fold"],
      [lastCheque + 2, "torn at the fold"],
    ]);
    // A spoilt one whose payment is left: its items are unpaid and come again next time.
    const [unwanted] = must(await paymentsOfRun(await clerk(), { run: own.id })).cheques.filter(
      (c) => c.payee === "Supplier CH2",
    );
    must(
      await voidCheque(await clerk(), {
        id: unwanted!.id,
        reason: "paid in cash",
        then: "leave unpaid",
      }),
    );
    expect(
      (await itemsOf(own.id))
        .filter((i) => i.group === "Supplier CH2")
        .every((i) => i.drafts === undefined),
    ).toBe(true);
    must(await postRun(await callerOf(w.database, "controller"), { key: String(own.id) }));
    const [payment] = must(await paymentsOfRun(await clerk(), { run: own.id })).payments;
    // There is no way round the second look.
    expect(
      codes(await reversePayment(await clerk(), { id: payment!.id, reason: "lost in the post" })),
    ).toEqual(["IN_USE"]);
    expect(
      codes(await reverseRun(await clerk(), { key: String(own.id), reason: "lost in the post" })),
    ).toEqual(["RUN_STANDS_IN_WAY"]);
    expect(
      must(await cancelCheque(await clerk(), { payment: payment!.id, reason: "lost in the post" }))
        .state,
    ).toBe("cancelling");
    expect(
      codes(
        await cancelCheque(await clerk(), { payment: payment!.id, reason: "lost in the post" }),
      ),
    ).toEqual(["FORBIDDEN"]);
    expect(must(await cancelCheque(await root(), { payment: payment!.id })).state).toBe(
      "cancelled",
    );
    await whole();
  });

  test("a supplier without an IBAN is paid by number and routing code, under its holder's name; what changes on the way is said before", async () => {
    must(
      await savePartner(await clerk(), {
        code: "KES",
        name: "Kestle Cranes ØÜ",
        supplier: true,
        country: "US",
        city: "Port Kestle",
        method: "transfer",
      }),
    );
    const account = { partner: "KES", number: "0012 3456", country: "US" };
    const refused = await addPartnerBank(await clerk(), { ...account, routing: "021000022" });
    expect(refused.ok ? [] : refused.problems.map((p) => p.field)).toEqual(["routing"]);
    const written = { ...account, routing: "021000021", holder: "Løvig Factors" };
    const { id } = must(await addPartnerBank(await clerk(), written));
    expect(codes(await addPartnerBank(await clerk(), written))).toEqual(["EXISTS"]);
    must(await decidePartnerBank(await root(), { id, to: "confirmed" }));
    await invoice("KES", "10.00", "2026-09-01");
    // Where its banks ask for it, nothing goes before it is said what it is for.
    const settings = must(await payablesSettings(await root(), {}));
    const asks = (purposeCountries: string) => ({ ...settings, purposeCountries });
    expect(codes(await savePayablesSettings(await root(), asks("USA")))).toEqual(["INVALID"]);
    must(await savePayablesSettings(await root(), asks("us, ae")));
    const early = must(await propose({ suppliers: ["KES"], date: "2026-10-17" }));
    expect(must(await getRun(await clerk(), { key: String(early.id) })).head.blocks).toEqual([
      "Banks there ask what Kestle Cranes ØÜ (US) is paid for; give the payment or the supplier a purpose.",
    ]);
    expect(codes(await postRun(await root(), { key: String(early.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    // It can be said of the one payment, too.
    const payments = async () =>
      ((await proposalOf(await clerk(), early.id)).detail as PaymentRunDetail).payments;
    const [paid] = await payments();
    const say = async (code: string) => {
      const amounts = { [`purpose|${paid!.key}`]: code };
      must(await changeRun(await clerk(), { key: String(early.id), amounts }));
      return must(await getRun(await clerk(), { key: String(early.id) })).head.blocks ?? [];
    };
    expect(await say("ROPE")).toEqual(["ROPE is no purpose of payment that banks know."]);
    expect(await say("rent")).toEqual([]);
    expect((await payments())[0]!.purpose).toBe("RENT");
    must(await discardRun(await clerk(), { key: String(early.id) }));
    const kestle = must(await getPartner(await root(), { code: "KES" }));
    const withPurpose = (purpose: string) => ({ ...kestle, purpose });
    expect(codes(await savePartner(await root(), withPurpose("ABCD")))).toEqual(["INVALID"]);
    must(await savePartner(await root(), withPurpose("scve")));
    const run = must(await propose({ suppliers: ["KES"], date: "2026-10-17" }));
    expect(must(await getRun(await clerk(), { key: String(run.id) })).head.warnings).toEqual(
      expect.arrayContaining([
        "Written in the letters of banks: “Løvig Factors” as “Lovig Factors”.",
        "17 Oct 2026 is a Saturday: banks pay EUR on 19 Oct 2026.",
      ]),
    );
    must(await postRun(await root(), { key: String(run.id) }));
    // What is confirmed afterwards changes nothing of what was posted.
    const later = must(
      await addPartnerBank(await clerk(), { ...written, number: "999", holder: "Somebody" }),
    );
    must(await decidePartnerBank(await root(), { id: later.id, to: "confirmed" }));
    const file = must(await makePaymentFile(await clerk(), { run: run.id }));
    const { content } = must(await getPaymentFile(await clerk(), { id: file.id }));
    expect(faultsOfTransferFile(content)).toEqual([]);
    expect(content).toMatch(/<Purp>\s*<Cd>SCVE<\/Cd>/);
    expect(content).toMatch(/<Othr>\s*<Id>00123456<\/Id>/);
    expect(content).toMatch(/<Cdtr>\s*<Nm>Lovig Factors<\/Nm>/);
    expect(content).toMatch(/<UltmtCdtr>\s*<Nm>Kestle Cranes OU<\/Nm>/);
    await whole();
  });
});
