import { describe, expect, test } from "vitest";
import { callerOf, must, written, codes, STANDARD_TAX } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { approveDocument, saveApprovalRule, waitingForMe } from "../approvals";
import { addAttachment, addRemark, papersOf, removeAttachment } from "../documents";
import { createJournal, saveDraft, getJournal, reverseJournal } from "../ledger";
import { verify } from "../verify";
import { ageing, allocateItems, openItems } from "../openItems";
import { saveTerms } from "../partners";
import { loadRates } from "../rates";
import {
  cancelInvoice,
  checkInvoice,
  getInvoice,
  listInvoices,
  postInvoice,
  saveInvoice,
  submitInvoice,
  deleteInvoice,
} from "./index";
import { saveTaxCode, taxSummary } from "../taxes";

const w = world();
const line = (net: string, taxCode = "S", more: object = {}) => ({
  account: "6310",
  dimensions: { costCentre: "HARB" },
  description: "",
  net,
  taxCode,
  ...more,
});
const paper = (number: string, lines: object[], more: object = {}) => ({
  company: "ALP",
  supplier: "Tarn Rope & Chain",
  number,
  date: "2026-10-05",
  lines,
  ...more,
});
const clerk = () => callerOf(w.database, "payables");
async function posted(content: ReturnType<typeof paper>) {
  const kept = must(await saveInvoice(await clerk(), { content }));
  return must(await postInvoice(await clerk(), { id: kept.id, version: kept.version, content }));
}
const linesOf = async (key: string) => {
  const j = must(await getJournal(await callerOf(w.database, "root"), { key }));
  return j.kind === "posted" ? j.lines.map((l) => `${l.account} ${l.side} ${l.amount}`) : [];
};

describe("invoices of suppliers", () => {
  test("tax codes keep the rates that have held; posting wants one", async () => {
    const root = await callerOf(w.database, "root");
    const code = STANDARD_TAX;
    expect(codes(await saveTaxCode(root, { ...code, account: "6310" }))).toEqual(["INVALID"]);
    must(await saveTaxCode(root, code));
    must(
      await saveTaxCode(root, {
        code: "RC",
        name: "Reverse charge",
        kind: "reverse",
        account: "1410",
        owedAccount: "2210",
        returnLine: "46",
        rates: [{ from: "2020-01-01", percent: "23" }],
      }),
    );
    expect(
      codes(await saveTaxCode(root, { ...code, rates: [{ from: "2020-01-01", percent: "21" }] })),
    ).toEqual(["IN_USE"]);
    must(
      await saveTaxCode(root, {
        ...code,
        rates: [...code.rates, { from: "2027-01-01", percent: "21" }],
      }),
    );
    must(
      await saveTerms(await clerk(), {
        code: "half",
        name: "two halves",
        terms: {
          instalments: [
            { percent: "50", days: 10 },
            { percent: "50", days: 40 },
          ],
        },
      }),
    );
  });

  test("kept as typed, posted with cost, tax and two instalments, found again, and cancelled with its tax", async () => {
    const content = paper("T-101", [line("1,000.00"), line("500.00", "RC")], {
      terms: "half",
      total: "1,730.00",
    });
    const bad = must(await saveInvoice(await clerk(), { content: paper("", [line("x", "Q")]) }));
    expect(bad.problems.map((p) => `${p.line ?? ""} ${p.field} ${p.code}`)).toEqual(
      expect.arrayContaining([
        " number REQUIRED",
        "1 net AMOUNT_NOT_NUMBER",
        "1 taxCode TAX_UNKNOWN",
      ]),
    );
    must(await deleteInvoice(await clerk(), { id: bad.id, version: bad.version }));
    const done = await posted(content);
    expect(done.number).toBe("ALP-26-P00001");
    // What is posted stays as it was, whatever becomes of the tax code.
    const code = {
      code: "S",
      name: "Standard",
      kind: "standard",
      account: "1410",
      returnLine: "60",
      rates: [
        { from: "2020-01-01", percent: "23" },
        { from: "2027-01-01", percent: "21" },
      ],
    };
    const root = await callerOf(w.database, "root");
    must(await saveTaxCode(root, { ...code, kind: "reverse", owedAccount: "2210", blocked: true }));
    expect(must(await getInvoice(await clerk(), { id: done.id })).figures).toMatchObject({
      net: 150_000n,
      tax: 23_000n,
      gross: 173_000n,
      taxes: [{ code: "S", percent: "23" }, { code: "RC" }],
    });
    must(await saveTaxCode(root, code));
    expect(await linesOf(done.journal)).toEqual([
      "6310 debit 100000",
      "6310 debit 50000",
      "1410 debit 23000",
      "1410 debit 11500",
      "2210 credit 11500",
      "2140 credit 86500",
      "2140 credit 86500",
    ]);
    const view = must(await getInvoice(await clerk(), { id: done.id }));
    expect([view.status, view.items.map((i) => [i.due, i.left])]).toEqual([
      "posted",
      [
        ["2026-10-15", 86_500n],
        ["2026-11-14", 86_500n],
      ],
    ]);
    expect(
      must(await listInvoices(await clerk(), { company: "ALP", text: "t-101" })).rows,
    ).toMatchObject([{ number: done.number, left: 173_000n, due: "2026-10-15" }]);
    const { rows: summary, accounts } = must(
      await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
    );
    // What is owed under reverse charge stands on its account; both are what the ledger says, to
    // the cent.
    expect(accounts.map(({ name: _, ...a }) => a)).toEqual([
      {
        account: "1410",
        recorded: 34_500n,
        otherDays: 0n,
        unrecorded: 0n,
        movement: 34_500n,
        agrees: true,
      },
      {
        account: "2210",
        recorded: -11_500n,
        otherDays: 0n,
        unrecorded: 0n,
        movement: -11_500n,
        agrees: true,
      },
    ]);
    expect(summary.map((r) => [r.code, r.returnLine, r.base, r.tax])).toEqual([
      ["RC", "46", 50_000n, 11_500n],
      ["S", "60", 100_000n, 23_000n],
    ]);
    expect(
      codes(await reverseJournal(await callerOf(w.database, "root"), { key: done.journal })),
    ).toEqual(["REVERSE_BY_RUN"]);
    expect(codes(await cancelInvoice(await clerk(), { id: done.id, reason: "x" }))).toEqual([
      "REASON_REQUIRED",
    ]);
    must(await cancelInvoice(await clerk(), { id: done.id, reason: "wrong company" }));
    expect(
      must(
        await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
      ).rows.every((r) => r.tax === 0n && r.base === 0n),
    ).toBe(true);
    expect(
      must(await openItems(await clerk(), { company: "ALP", area: "payables", on: "2026-10-31" })),
    ).toEqual([]);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("its paper is added by whoever prepares invoices, and by nobody who only reads; what hangs on a journal stays with those who prepare journals", async () => {
    const kept = must(
      await saveInvoice(await clerk(), { content: paper("T-150", [line("5.00")]) }),
    );
    const file = { name: "t-150.txt", content: Buffer.from("rope, 5.00").toString("base64") };
    const added = must(await addAttachment(await clerk(), { id: kept.id, ...file }));
    expect(must(await papersOf(await clerk(), { id: kept.id }))).toMatchObject({
      mayAdd: true,
      attachments: [{ name: "t-150.txt", mayRemove: true }],
    });
    const auditor = await callerOf(w.database, "auditor");
    expect(must(await papersOf(auditor, { id: kept.id }))).toMatchObject({
      mayAdd: false,
      attachments: [{ mayRemove: false }],
    });
    for (const stranger of ["accountant", "receivables", "auditor"] as const)
      expect(
        codes(await addAttachment(await callerOf(w.database, stranger), { id: kept.id, ...file })),
      ).toEqual(["FORBIDDEN"]);
    expect(
      codes(await addRemark(await callerOf(w.database, "budget"), { id: kept.id, text: "seen" })),
    ).toEqual(["FORBIDDEN"]);
    const draft = must(
      await saveDraft(await callerOf(w.database, "accountant"), { content: written() }),
    );
    expect(codes(await addAttachment(await clerk(), { id: draft.id, ...file }))).toEqual([
      "FORBIDDEN",
    ]);
    must(await removeAttachment(await clerk(), { id: added.id }));
    must(await deleteInvoice(await clerk(), { id: kept.id, version: kept.version }));
  });

  test("the same number of a supplier is refused however it is written, a like amount is pointed out, a cancelled one is free again", async () => {
    const first = await posted(paper("INV-0042", [line("300.00")]));
    const again = must(await checkInvoice(await clerk(), paper("inv 42", [line("10.00")])));
    expect([again.problems.map((p) => p.code), again.copies.map((c) => [c.same, c.why])]).toEqual([
      ["INVOICE_DOUBLE"],
      [[true, "the same number"]],
    ]);
    const like = must(
      await checkInvoice(await clerk(), paper("INV-43", [line("300.00")], { date: "2026-10-12" })),
    );
    expect([like.problems, like.copies.map((c) => c.why)]).toEqual([
      [],
      ["the same amount, about the same day"],
    ]);
    must(await cancelInvoice(await clerk(), { id: first.id, reason: "sent twice" }));
    expect(
      must(await checkInvoice(await clerk(), paper("INV-42", [line("300.00")]))).problems,
    ).toEqual([]);
  });

  test("two people post the same paper at once: one of them is told", async () => {
    const content = paper("RACE-1", [line("50.00")]);
    const [a, b] = [
      must(await saveInvoice(await clerk(), { content })),
      must(await saveInvoice(await clerk(), { content })),
    ];
    const results = await Promise.all(
      [a, b].map(async (x) =>
        postInvoice(await clerk(), { id: x.id, version: x.version, content }),
      ),
    );
    expect(results.map((r) => codes(r)).sort()).toEqual([[], ["INVOICE_DOUBLE"]]);
  });

  test("in dollars, paid in part: the rest stays due, the ageing equals the control account, and it can't be cancelled before that is undone", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await loadRates(root, {
        rows: [{ kind: "spot", base: "EUR", quote: "USD", date: "2026-10-01", rate: "1.25" }],
        take: true,
      }),
    );
    const done = await posted(
      paper("US-7", [line("1,000.00", "RC")], { supplier: "PEL", currency: "USD" }),
    );
    expect(await linesOf(done.journal)).toContain("2140 credit 80000");
    must(
      await createJournal(root, {
        company: "ALP",
        type: "general",
        date: "2026-10-20",
        description: "Paid by hand",
        reference: "US-7",
        currency: "USD",
        rate: "0.82",
        post: true,
        lines: [
          { account: "2140", debit: "400.00", partner: "PEL", dueDate: "2026-10-20" },
          { account: "1100", credit: "400.00" },
        ],
      }),
    );
    const items = must(
      await openItems(root, { company: "ALP", area: "payables", on: "2026-10-31", partner: "PEL" }),
    );
    must(
      await allocateItems(root, {
        date: "2026-10-20",
        pairs: [
          { first: items.find((i) => i.left < 0n)!.id, second: items.find((i) => i.left > 0n)!.id },
        ],
      }),
    );
    expect(must(await getInvoice(root, { id: done.id })).items.map((i) => i.left)).toEqual([
      60_000n,
    ]);
    expect(
      must(await ageing(root, { company: "ALP", area: "payables", on: "2026-10-31" })).agrees,
    ).toBe(true);
    expect(codes(await cancelInvoice(root, { id: done.id, reason: "wrong supplier" }))).toEqual([
      "ITEM_ALLOCATED",
    ]);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("a rule sends it to somebody else, who posts it by approving; a closed period and a cost centre that is missing are said at their places", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await saveApprovalRule(root, {
        type: "purchase",
        minimum: "10,000.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    const content = paper("BIG-1", [line("20,000.00")]);
    const kept = must(await saveInvoice(await clerk(), { content }));
    expect(kept.approval).toContain("approved by a controller");
    expect(codes(await postInvoice(await clerk(), { id: kept.id, version: 1, content }))).toEqual([
      "APPROVAL_NEEDED",
    ]);
    must(await submitInvoice(await clerk(), { id: kept.id, version: 1, content }));
    expect(codes(await saveInvoice(await clerk(), { id: kept.id, version: 2, content }))).toEqual([
      "IN_USE",
    ]);
    const controller = await callerOf(w.database, "controller");
    expect(must(await waitingForMe(controller)).map((x) => [x.kind, x.id])).toEqual([
      ["invoice", kept.id],
    ]);
    expect(must(await approveDocument(controller, { id: kept.id })).number).toMatch(
      /^ALP-26-P\d{5}$/,
    );
    const wrong = must(
      await checkInvoice(
        await clerk(),
        paper("W-1", [line("1.00", "S", { dimensions: {} })], { postingDate: "2026-12-05" }),
      ),
    );
    expect(wrong.problems.map((p) => `${p.line ?? ""} ${p.field} ${p.code}`)).toEqual([
      " postingDate PERIOD_NOT_OPENED",
      "1 costCentre DIMENSION_REQUIRED",
    ]);
  });
});
