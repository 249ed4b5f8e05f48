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
import { deleteApprovalRule, listApprovalRules, saveApprovalRule } from "../approvals";
import { listBankAccounts, saveBankAccount, paymentsOfRun, reversePayment } from "../banks";
import { createJournal, getJournal, reverseJournal } from "../ledger";
import { verify } from "../verify";
import { allocateItems, ageing, itemHistory, openItems, undoAllocation } from "../openItems";
import { addYear, saveCompany } from "../organisation";
import { loadRates } from "../rates";
import { getPartner, savePartner, saveTerms } from "../partners";
import { saveTaxCode, taxSummary } from "../taxes";
import { papersOf } from "../documents";
import { discardRun, postRun, proposeRun, reverseRun } from "../runs";
import {
  cancelInvoice,
  cashNeeded,
  createInvoice,
  getInvoice,
  listInvoices,
  loadEInvoice,
  loadInvoices,
  makePayment,
  netPartner,
  postInvoice,
  releaseInvoice,
} from "./index";

const BOTH = {
  code: "BOTH",
  name: "Both Ways Haulage",
  supplier: true,
  customer: true,
  country: "IE",
  taxNumber: "IE9002222W",
  account: "6310",
  dimensions: { costCentre: "HARB" },
  taxCode: "S",
};
const queries: string[] = [];
const w = world((q) => queries.push(q));
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const fileOf = (xml: string) => ({
  company: "ALP",
  content: Buffer.from(xml).toString("base64"),
});
const bill = async (number: string, net: string, more: object = {}) =>
  must(
    await createInvoice(await clerk(), {
      company: "ALP",
      supplier: "BOTH",
      number,
      date: "2026-10-02",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "Z" }],
      post: true,
      ...more,
    }),
  );
const items = async (area: "payables" | "receivables" = "payables") =>
  must(await openItems(await root(), { company: "ALP", area, on: "2026-10-31", partner: "BOTH" }));
const pay = async (more: object) =>
  makePayment(await clerk(), {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-10",
    supplier: "BOTH",
    ...more,
  });
const linesOf = async (key: string) => {
  const j = must(await getJournal(await root(), { key }));
  return j.kind === "posted" ? j.lines.map((l) => `${l.account} ${l.side} ${l.amount}`) : [];
};
const whole = async () => {
  for (const area of ["payables", "receivables"] as const)
    expect(
      must(await ageing(await root(), { company: "ALP", area, on: "2026-10-31" })).agrees,
    ).toBe(true);
  expect([
    must(await cashNeeded(await clerk(), { company: "ALP", on: "2026-10-15" })).agrees,
    (await verify(w.database.db)).flatMap((c) => c.faults),
  ]).toEqual([true, []]);
};

beforeAll(async () => {
  // A year to come, into which nothing is posted yet.
  must(await addYear(await root(), { company: "ALP", name: "2027", start: "2027-01-01" }));
  must(
    await saveTaxCode(await root(), {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(await saveTaxCode(await root(), STANDARD_TAX));
  must(
    await saveTaxCode(await root(), {
      code: "W20",
      name: "Building work",
      kind: "withheld",
      owedAccount: "2240",
      returnLine: "W1",
      rates: [{ from: "2020-01-01", percent: "20" }],
    }),
  );
  must(await savePartner(await clerk(), BOTH));
  must(
    await savePartner(await clerk(), {
      code: "ONLY",
      name: "Lone Rope Works",
      supplier: true,
      country: "IE",
      account: "6310",
    }),
  );
  must(await saveBankAccount(await root(), BANK_OF_ALPHA));
});

describe("payments by themselves", () => {
  test("an item in part with a discount, a coding beside it, a refund of a credit note; each can be taken back", async () => {
    await bill("N-1", "100.00");
    const [item] = await items();
    expect(
      codes(await pay({ items: [{ id: item!.id, amount: "99.00", discount: "2.00" }] })),
    ).toEqual(["ITEM_OVERALLOCATED"]);
    expect(codes(await pay({ date: "2026-10-01", items: [{ id: item!.id }] }))).toEqual([
      "INVALID",
    ]);
    expect(
      codes(
        await pay({
          items: [
            { id: item!.id, amount: "60.00" },
            { id: item!.id, amount: "60.00" },
          ],
        }),
      ),
    ).toEqual(["INVALID"]);
    expect(
      codes(
        await pay({
          items: [{ id: item!.id }],
          lines: [{ account: "7420", dimensions: { costCentre: "ADM" }, amount: "-100.00" }],
        }),
      ),
    ).toEqual(["INVALID"]);
    const paid = must(
      await pay({
        items: [{ id: item!.id, amount: "58.00", discount: "2.00" }],
        lines: [
          {
            account: "7420",
            dimensions: { costCentre: "ADM" },
            description: "Fee",
            amount: "1.50",
          },
        ],
      }),
    );
    expect(await linesOf(paid.journal)).toEqual([
      "2140 debit 6000",
      "1120 credit 5950",
      "8560 credit 200",
      "7420 debit 150",
    ]);
    expect((await items()).map((i) => i.left)).toEqual([-4_000n]);
    await bill("C-1", "40.00", { kind: "credit note" });
    const credit = (await items()).find((i) => i.kind === "credit note")!;
    const refund = must(
      await pay({ method: "refund", items: [{ id: credit.id, amount: "10.00" }] }),
    );
    expect(await linesOf(refund.journal)).toEqual(["2140 credit 1000", "1120 debit 1000"]);
    await whole();
    // A payment is undone as a payment, not by its journal alone.
    const alone = must(
      await pay({
        supplier: "",
        payee: "Harbour fair",
        lines: [{ account: "7420", dimensions: { costCentre: "ADM" }, amount: "5.00" }],
      }),
    );
    expect(codes(await reverseJournal(await root(), { key: alone.journal }))).toEqual([
      "REVERSE_BY_RUN",
    ]);
    must(await reversePayment(await clerk(), { id: alone.id, reason: "not our fair" }));
    must(await reversePayment(await clerk(), { id: paid.id, reason: "typed twice" }));
    must(await reversePayment(await clerk(), { id: refund.id, reason: "did not come" }));
    expect((await items()).map((i) => i.left)).toEqual([-10_000n, 4_000n]);
    await whole();
  });

  test("a discount takes its tax back, also on a payment by itself; nothing is paid to a supplier on hold, but a refund is taken", async () => {
    const tax = async () =>
      must(
        await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
      ).rows.find((r) => r.code === "S")?.tax ?? 0n;
    await bill("D-1", "1,000.00", {
      lines: [
        { account: "6310", dimensions: { costCentre: "HARB" }, net: "1,000.00", taxCode: "S" },
      ],
    });
    const item = (await items()).find((i) => i.reference === "D-1")!;
    const paid = must(
      await pay({ items: [{ id: item.id, amount: "1,205.40", discount: "24.60" }] }),
    );
    expect(await linesOf(paid.journal)).toEqual([
      "2140 debit 123000",
      "1120 credit 120540",
      "1410 credit 460",
      "8560 credit 2000",
    ]);
    expect(await tax()).toBe(22_540n);
    await whole();
    must(await reversePayment(await clerk(), { id: paid.id, reason: "typed twice" }));
    expect(await tax()).toBe(23_000n);
    const hold = async (why: string) =>
      must(
        await savePartner(await clerk(), {
          ...BOTH,
          hold: why,
          version: must(await getPartner(await clerk(), { code: "BOTH" })).version,
        }),
      );
    await hold("contract ended");
    const refused = await pay({ items: [{ id: item.id }] });
    expect(!refused.ok && refused.problems.map((p) => ("what" in p ? p.what : p.code))).toEqual([
      "Both Ways Haulage is on hold: contract ended",
    ]);
    const credit = (await items()).find((i) => i.kind === "credit note")!;
    must(
      await reversePayment(await clerk(), {
        id: must(await pay({ method: "refund", items: [{ id: credit.id }] })).id,
        reason: "did not come",
      }),
    );
    await hold("");
    must(await cancelInvoice(await clerk(), { id: item.documentId, reason: "entered twice" }));
    await whole();
  });

  test("one that a rule or the bank account stands against does not post: it waits as a run for a second person, and keeps its items from other runs", async () => {
    must(
      await saveApprovalRule(await root(), {
        type: "payment",
        minimum: "90.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    const item = (await items()).find((i) => i.reference === "N-1")!;
    const { run } = must(
      await pay({
        items: [{ id: item.id }],
        lines: [{ account: "7420", dimensions: { costCentre: "ADM" }, amount: "1.50" }],
      }),
    );
    expect(run?.why).toBe("payment journals from 90.00 EUR are approved by a controller");
    expect(codes(await pay({ items: [{ id: item.id, amount: "1.00" }] }))).toEqual(["IN_USE"]);
    const other = must(
      await proposeRun(await clerk(), {
        kind: "payment",
        params: { company: "ALP", bank: "MAIN", date: "2026-10-10", next: "2026-12-10" },
      }),
    );
    expect(
      (await proposalOf(await root(), other.id)).items.find((i) => i.label === "N-1")?.leftOut,
    ).toBe(`${run!.number} has taken it already`);
    must(await discardRun(await clerk(), { key: String(other.id) }));
    expect(codes(await postRun(await clerk(), { key: run!.number }))).toEqual(["RUN_APPROVAL"]);
    must(await postRun(await callerOf(w.database, "controller"), { key: run!.number }));
    expect((await items()).map((i) => [i.reference, i.left])).toEqual([["C-1", 4_000n]]);
    await whole();
    must(
      await reverseRun(await callerOf(w.database, "controller"), {
        key: run!.number,
        reason: "paid by the owner",
      }),
    );
    expect((await items()).find((i) => i.reference === "N-1")?.left).toBe(-10_000n);
    await whole();
    // What is paid by a coding takes nothing that another payment could want: any number of them
    // may wait.
    const fees = async () =>
      must(
        await pay({
          supplier: "",
          payee: "Harbour fair",
          lines: [{ account: "7420", dimensions: { costCentre: "ADM" }, amount: "95.00" }],
        }),
      ).run!;
    for (const waits of [await fees(), await fees()]) {
      must(await postRun(await callerOf(w.database, "controller"), { key: waits.number }));
      expect(must(await paymentsOfRun(await clerk(), { run: waits.id })).payments).toMatchObject([
        { payee: "Harbour fair", amount: 9_500n, status: "posted", firstItem: null },
      ]);
    }
    await whole();
    must(
      await deleteApprovalRule(await root(), {
        id: must(await listApprovalRules(await root(), {}))[0]!.id,
      }),
    );
    const version = async () =>
      must(await listBankAccounts(await root())).find((b) => b.code === "MAIN")!.version;
    must(
      await saveBankAccount(await root(), {
        ...BANK_OF_ALPHA,
        version: await version(),
        overdraft: "10.00",
        refuse: true,
      }),
    );
    expect(codes(await pay({ items: [{ id: item.id, amount: "50.00" }] }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, version: await version() }));
  });

  test("a run of many payments with discounts is posted in as many queries as one of few, each with its tax taken back", async () => {
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
    const taxes = async () =>
      must(
        await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
      ).rows.find((r) => r.code === "S")?.tax ?? 0n;
    const post = async (count: number) => {
      const suppliers = Array.from({ length: count }, (_, i) => `D${count}-${i}`);
      for (const supplier of suppliers) {
        must(
          await savePartner(await clerk(), {
            code: supplier,
            name: supplier,
            supplier: true,
            country: "IE",
            method: "manual",
            terms: "2-10",
          }),
        );
        await bill(`I-${supplier}`, "", {
          supplier,
          lines: [
            { account: "6310", dimensions: { costCentre: "HARB" }, net: "100.00", taxCode: "S" },
          ],
        });
      }
      const run = must(
        await proposeRun(await clerk(), {
          kind: "payment",
          params: {
            company: "ALP",
            bank: "MAIN",
            date: "2026-10-10",
            next: "2026-10-17",
            suppliers,
          },
        }),
      );
      const [who, before] = [await clerk(), await taxes()];
      queries.length = 0;
      must(await postRun(who, { key: String(run.id) }));
      const used = queries.length;
      // 2.46 off each 123.00: 2.00 and 0.46 of tax.
      expect(await taxes()).toBe(before - 46n * BigInt(count));
      await whole();
      must(await reverseRun(await clerk(), { key: String(run.id), reason: "only counted" }));
      expect(await taxes()).toBe(before);
      return used;
    };
    expect(await post(12)).toBe(await post(2));
    await whole();
  });

  test("an advance leaves an open item, which is set against the invoice that comes later: both accounts change", async () => {
    expect(
      codes(
        await makePayment(await clerk(), {
          company: "ALP",
          bank: "MAIN",
          date: "2026-10-10",
          payee: "Somebody",
          lines: [{ account: "1430", amount: "30.00" }],
        }),
      ),
    ).toContain("PARTNER_REQUIRED");
    must(
      await pay({
        description: "Deposit for the winter",
        lines: [{ account: "1430", amount: "30.00" }],
      }),
    );
    await whole();
    const advance = (await items()).find((i) => i.kind === "prepayment")!;
    const invoice = (await items()).find((i) => i.kind === "invoice")!;
    const done = must(
      await allocateItems(await clerk(), {
        date: "2026-10-12",
        pairs: [{ first: advance.id, second: invoice.id }],
      }),
    );
    expect(await linesOf(done.journal!)).toEqual(["1430 credit 3000", "2140 debit 3000"]);
    await whole();
    must(await undoAllocation(await clerk(), { id: done.id }));
    await whole();
  });

  test("what is owed both ways is netted and can be taken back", async () => {
    must(
      await createJournal(await root(), {
        company: "ALP",
        type: "general",
        date: "2026-10-05",
        description: "Freight",
        reference: "F-1",
        book: null,
        currency: null,
        period: null,
        post: true,
        lines: [
          {
            account: "1310",
            dimensions: {},
            description: "",
            debit: "70.00",
            credit: "",
            partner: "BOTH",
            dueDate: "2026-10-20",
          },
          { account: "2440", dimensions: {}, description: "", debit: "", credit: "70.00" },
        ],
      }),
    );
    const netted = must(
      await netPartner(await root(), {
        company: "ALP",
        partner: "BOTH",
        currency: "EUR",
        date: "2026-10-13",
      }),
    );
    expect([
      netted.amount,
      await linesOf(netted.journal),
      (await items("receivables")).length,
    ]).toEqual([7_000n, ["2140 debit 7000", "1310 credit 7000"], 0]);
    await whole();
    const invoice = (await items()).find((i) => i.kind === "invoice")!;
    const history = must(await itemHistory(await root(), { id: invoice.id }));
    must(await undoAllocation(await root(), { id: history.at(-1)!.id }));
    expect((await items("receivables")).map((i) => i.left)).toEqual([7_000n]);
    await whole();
  });
});

describe("invoices from elsewhere", () => {
  test("tax that is kept back lowers what the supplier gets and stands with the authority", async () => {
    const made = await bill("W-1", "1,000.00", { withholding: "W20", total: "1,000.00" });
    const view = must(await getInvoice(await clerk(), { id: made.id }));
    expect(await linesOf(view.journals[0]!.number)).toEqual([
      "6310 debit 100000",
      "2240 credit 20000",
      "2140 credit 80000",
    ]);
    const { rows, accounts } = must(
      await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
    );
    expect([
      rows.find((r) => r.code === "W20")?.tax,
      accounts.find((a) => a.account === "2240"),
    ]).toMatchObject([
      20_000n,
      { recorded: -20_000n, unrecorded: 0n, movement: -20_000n, agrees: true },
    ]);
    // What goes to the authority is posted without a record, and said apart.
    must(
      await makePayment(await clerk(), {
        company: "ALP",
        bank: "MAIN",
        date: "2026-10-20",
        supplier: "",
        payee: "Revenue office",
        method: "manual",
        lines: [
          { account: "2240", dimensions: {}, description: "Withheld in October", amount: "200.00" },
        ],
      }),
    );
    expect(
      must(
        await taxSummary(await clerk(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
      ).accounts.find((a) => a.account === "2240"),
    ).toMatchObject({ recorded: -20_000n, unrecorded: 20_000n, movement: 0n, agrees: true });
    await whole();
  });
  test("an e-invoice takes no code that recovers a part by itself; what its paper contradicts holds it until a second person decides", async () => {
    for (const [code, recoverable] of [
      ["A23", "50"],
      ["B23", "100"],
    ])
      must(
        await saveTaxCode(await root(), {
          code,
          name: `${code} of 24`,
          kind: "standard",
          account: "1410",
          recoverable,
          rates: [{ from: "2020-01-01", percent: "24" }],
        }),
      );
    const ubl = (number: string, payable: string, prepaid = "") =>
      `<Invoice><ID>${number}</ID><IssueDate>2026-10-06</IssueDate><DocumentCurrencyCode>EUR</DocumentCurrencyCode><AccountingSupplierParty><Party><PartyLegalEntity><RegistrationName>Lone Rope Works</RegistrationName></PartyLegalEntity></Party></AccountingSupplierParty><LegalMonetaryTotal><TaxInclusiveAmount>124.00</TaxInclusiveAmount>${prepaid}<PayableAmount>${payable}</PayableAmount></LegalMonetaryTotal><InvoiceLine><LineExtensionAmount>100.00</LineExtensionAmount><Item><Name>Haulage</Name><ClassifiedTaxCategory><ID>S</ID><Percent>24</Percent></ClassifiedTaxCategory></Item></InvoiceLine></Invoice>`;
    const draft = async (xml: string) => {
      const made = must(await loadEInvoice(await clerk(), fileOf(xml)));
      return { made, view: must(await getInvoice(await clerk(), { id: made.id })) };
    };
    const plain = await draft(ubl("LR-1", "124.00"));
    expect([plain.made.doubts, plain.view.content.lines[0]!.taxCode]).toEqual([
      ["Lone Rope Works was recognised by its name alone: the paper has no tax number."],
      "B23",
    ]);
    const { made, view } = await draft(
      ubl("LR-2", "24.00", "<PrepaidAmount>100.00</PrepaidAmount>"),
    );
    expect(made.doubts).toHaveLength(2);
    const content = {
      ...view.content,
      lines: [{ ...view.content.lines[0]!, dimensions: { costCentre: "HARB" } }],
    };
    const held = must(
      await postInvoice(await clerk(), { id: made.id, version: view.version, content }),
    );
    expect([held.number, held.held]).toEqual(["", made.doubts]);
    const released = must(
      await releaseInvoice(await root(), { id: made.id, reason: "the advance is known" }),
    );
    expect(released.number).toMatch(/^ALP-26-P/);
    // Two codes that recover everything: nobody guesses.
    must(
      await saveTaxCode(await root(), {
        code: "C23",
        name: "Another of 24",
        kind: "standard",
        account: "1410",
        rates: [{ from: "2020-01-01", percent: "24" }],
      }),
    );
    const open = await draft(ubl("LR-3", "124.00"));
    expect(open.view.content.lines[0]!.taxCode).toBe("");
    expect(open.made.problems.map((p) => [p.line, p.field, p.code])).toContainEqual([
      1,
      "taxCode",
      "REQUIRED",
    ]);
  });
  test("an e-invoice for another company, at another rate of tax there, is held; the PDF within it hangs on the draft", async () => {
    must(
      await saveCompany(await root(), {
        code: "ALP",
        name: "Alpha",
        currency: "EUR",
        country: "DE",
        taxNumber: "DE999000017",
      }),
    );
    must(
      await loadRates(await root(), {
        take: true,
        rows: [{ base: "USD", quote: "EUR", date: "2026-10-06", rate: "0.8" }],
      }),
    );
    const pdf = Buffer.from("%PDF-1.4 made up").toString("base64");
    const ubl = (buyer: string, there: string) =>
      `<Invoice><ID>BY-${there}</ID><IssueDate>2026-10-06</IssueDate><DocumentCurrencyCode>USD</DocumentCurrencyCode><TaxCurrencyCode>EUR</TaxCurrencyCode><AdditionalDocumentReference><ID>P</ID><Attachment><EmbeddedDocumentBinaryObject mimeCode="application/pdf" filename="BY.pdf">${pdf}</EmbeddedDocumentBinaryObject></Attachment></AdditionalDocumentReference><AccountingSupplierParty><Party><PartyTaxScheme><CompanyID>IE 9002222 W</CompanyID></PartyTaxScheme></Party></AccountingSupplierParty><AccountingCustomerParty><Party><PartyTaxScheme><CompanyID>${buyer}</CompanyID></PartyTaxScheme></Party></AccountingCustomerParty><PaymentTerms><Note>Pay soon</Note></PaymentTerms><TaxTotal><TaxAmount currencyID="USD">23.00</TaxAmount></TaxTotal><TaxTotal><TaxAmount currencyID="EUR">${there}</TaxAmount></TaxTotal><LegalMonetaryTotal><TaxInclusiveAmount>123.00</TaxInclusiveAmount></LegalMonetaryTotal><InvoiceLine><InvoicedQuantity unitCode="HUR">4</InvoicedQuantity><LineExtensionAmount>100.00</LineExtensionAmount><Item><Name>Haulage</Name><ClassifiedTaxCategory><ID>S</ID><Percent>23</Percent></ClassifiedTaxCategory></Item></InvoiceLine></Invoice>`;
    const load = async (xml: string) => must(await loadEInvoice(await clerk(), fileOf(xml)));
    const right = await load(ubl("DE 999 000 017", "18.40"));
    expect(right.doubts).toEqual([]);
    expect((await load(ubl("DE111111111", "30.00"))).doubts).toEqual([
      "The paper is addressed to a buyer with tax number DE111111111; Alpha has DE999000017.",
      "The paper's tax is 30.00 EUR; at our rate it is 18.40.",
    ]);
    expect(
      must(await getInvoice(await clerk(), { id: right.id })).content.lines[0]!.description,
    ).toBe("Haulage, 4 hours");
    expect(
      must(await papersOf(await clerk(), { id: right.id })).attachments.map((a) => [
        a.name,
        a.type,
        a.says,
      ]),
    ).toEqual([
      ["BY.pdf", "application/pdf", []],
      ["BY-18.40.xml", "text/plain", ["Terms: Pay soon", "Tax in EUR: 18.40"]],
    ]);
  });
  test("an e-invoice fills a draft; a bomb and a table with a fault leave nothing", async () => {
    const ubl = `<Invoice xmlns:c="urn:x"><c:ID>E-77</c:ID><c:IssueDate>2026-10-06</c:IssueDate><c:DocumentCurrencyCode>EUR</c:DocumentCurrencyCode><c:AccountingSupplierParty><c:Party><c:PartyTaxScheme><c:CompanyID>IE 9002222 W</c:CompanyID></c:PartyTaxScheme></c:Party></c:AccountingSupplierParty><c:LegalMonetaryTotal><c:TaxInclusiveAmount>123.00</c:TaxInclusiveAmount></c:LegalMonetaryTotal><c:InvoiceLine><c:LineExtensionAmount>100.00</c:LineExtensionAmount><c:Item><c:Name>Haulage</c:Name><c:ClassifiedTaxCategory><c:ID>S</c:ID><c:Percent>23</c:Percent></c:ClassifiedTaxCategory></c:Item></c:InvoiceLine></Invoice>`;
    const made = must(await loadEInvoice(await clerk(), fileOf(ubl)));
    expect([made.supplier, made.problems]).toEqual(["Both Ways Haulage", []]);
    expect(must(await getInvoice(await clerk(), { id: made.id })).content).toMatchObject({
      supplier: "BOTH",
      number: "E-77",
      total: "123.00",
      lines: [{ account: "6310", net: "100.00", taxCode: "S" }],
    });
    expect(
      must(await papersOf(await clerk(), { id: made.id })).attachments.map((a) => [
        a.name,
        a.type,
        a.size,
      ]),
    ).toEqual([["E-77.xml", "text/plain", Buffer.byteLength(ubl)]]);
    expect(
      codes(await loadEInvoice(await clerk(), fileOf(`<!DOCTYPE x [<!ENTITY a "b">]>${ubl}`))),
    ).toEqual(["INVALID"]);
    const rows = [
      {
        supplier: "BOTH",
        number: "L-1",
        date: "2026-10-07",
        account: "6310",
        "cost centre": "HARB",
        net: "10.00",
        tax: "S",
      },
      {
        supplier: "BOTH",
        number: "L-1",
        date: "2026-10-07",
        account: "6310",
        "cost centre": "HARB",
        net: "5.00",
        tax: "S",
      },
      {
        supplier: "BOTH",
        number: "L-2",
        date: "2026-10-07",
        account: "6310",
        "cost centre": "HARB",
        net: "7.00",
        tax: "S",
      },
    ];
    expect(
      must(await loadInvoices(await clerk(), { company: "ALP", rows, take: true })),
    ).toMatchObject({ added: 2 });
    const bad = await loadInvoices(await clerk(), {
      company: "ALP",
      rows: [...rows.slice(2), { ...rows[0]!, number: "L-3", net: "many" }],
      take: true,
    });
    expect(!bad.ok && bad.problems.map((p) => [p.code, p.line])).toEqual([
      ["AMOUNT_NOT_NUMBER", 3],
    ]);
  });
  test("a table of many invoices takes as many queries as one of few, and each draft is its own", async () => {
    const table = (from: number, count: number) =>
      Array.from({ length: count }, (_, i) => ({
        supplier: i % 2 === 0 ? "BOTH" : "ONLY",
        number: `M-${from + i}`,
        date: "2026-10-08",
        account: "6310",
        "cost centre": "HARB",
        net: `${from + i}.00`,
        tax: "Z",
      }));
    const load = async (from: number, count: number) => {
      queries.length = 0;
      must(
        await loadInvoices(await clerk(), { company: "ALP", rows: table(from, count), take: true }),
      );
      return queries.length;
    };
    expect(await load(2_000, 300)).toBe(await load(1_000, 3));
    const loaded = must(
      await listInvoices(await clerk(), { company: "ALP", text: "m-2", limit: 5000 }),
    ).rows.filter((i) => i.supplierNumber.startsWith("M-2"));
    expect(loaded.length).toBe(300);
    for (const i of loaded)
      expect([i.supplier, i.amount]).toEqual([
        Number(i.supplierNumber.slice(2)) % 2 === 0 ? "BOTH" : "ONLY",
        BigInt(i.supplierNumber.slice(2)) * 100n,
      ]);
  });
});
