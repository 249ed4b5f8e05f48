import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { readEInvoice } from "@/core/trade/eInvoice/read";
import { doubtsOfPaper } from "@/core/trade/eInvoice/doubts";
import { saleInput, type SaleInput, type SaleLineInput } from "@/core/receivables";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { textOfPdf } from "../../../tests/pdfText";
import { approveDocument, saveApprovalRule } from "../approvals";
import { papersOf } from "../documents";
import { getMessageFile, listOutbox } from "../letters";
import { getJournal } from "../ledger";
import { ageing, allocateItems, openItems } from "../openItems";
import { saveCompany } from "../organisation";
import { savePartner, saveTerms } from "../partners";
import { getInvoice, listInvoices } from "../payables";
import { loadRates } from "../rates";
import { saveTaxCode, taxSummary } from "../taxes";
import { verify } from "../verify";
import {
  cancelSale,
  checkSale,
  correctableSales,
  getSale,
  getSalePdf,
  getSaleUbl,
  listPrepayments,
  listSales,
  receivablesSettings,
  loadSales,
  postSale,
  saveReceivablesSettings,
  saveSale,
  sendSale,
  submitSale,
} from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");
const rates = [{ from: "2020-01-01", percent: "23" }];
const berth = (more: Partial<SaleLineInput> = {}): Partial<SaleLineInput> => ({
  account: "4130",
  dimensions: { costCentre: "HARB" },
  description: "Berth, October",
  quantity: "31",
  unit: "days",
  price: "42.00",
  taxCode: "OUT",
  ...more,
});
const sale = (lines: Partial<SaleLineInput>[], more: Partial<SaleInput> = {}): SaleInput =>
  saleInput({ company: "ALP", customer: "FEN", date: "2026-10-05", ...more, lines });
async function posted(content: SaleInput, as = clerk) {
  const kept = must(await saveSale(await as(), { content }));
  return must(await postSale(await as(), { id: kept.id, version: kept.version, content }));
}
const linesOf = async (key: string) => {
  const j = must(await getJournal(await root(), { key }));
  return j.kind === "posted" ? j.lines.map((l) => `${l.account} ${l.side} ${l.amount}`) : [];
};
/** What is declared of October, by code: base and tax. */
const october = async () =>
  must(
    await taxSummary(await root(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
  ).rows.map((r) => [r.code, r.base, r.tax]);
const faults = async () => (await verify(w.database.db)).flatMap((c) => c.faults);
const customer = {
  code: "FEN",
  name: "Fennick Freight",
  customer: true,
  country: "DE",
  taxNumber: "DE123456789",
  email: "ap@fennick.example",
  street: "8 Pier",
  city: "Hafen",
  postcode: "20457",
};

beforeAll(async () => {
  must(
    await saveCompany(await root(), {
      code: "ALP",
      name: "Alpha Ferries",
      currency: "EUR",
      country: "DE",
      taxNumber: "DE999999999",
    }),
  );
  must(
    await saveTaxCode(await root(), {
      code: "OUT",
      name: "VAT",
      direction: "sale",
      kind: "standard",
      owedAccount: "2210",
      returnLine: "S1",
      rates,
    }),
  );
  must(
    await saveTaxCode(await root(), {
      code: "OUTRC",
      name: "Reverse charge",
      direction: "sale",
      kind: "reverse",
      returnLine: "S4",
      reason: "Article 196",
      rates,
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
  must(await savePartner(await clerk(), customer));
});

describe("invoices to customers", () => {
  test("posted with revenue, tax and an item by instalment, all under its own number", async () => {
    const done = await posted(sale([berth(), berth({ taxCode: "OUTRC" })], { terms: "half" }));
    expect(done.number).toBe("ALP-26-S00001");
    expect(await linesOf(done.journal)).toEqual([
      "4130 credit 130200",
      "4130 credit 130200",
      "2210 credit 29946",
      "1310 debit 145173",
      "1310 debit 145173",
    ]);
    const items = must(
      await openItems(await clerk(), {
        company: "ALP",
        area: "receivables",
        partner: "FEN",
        on: "2026-10-15",
      }),
    );
    expect(items.map((i) => [i.reference, i.dueDate, i.left])).toEqual([
      ["ALP-26-S00001", "2026-10-15", 145_173n],
      ["ALP-26-S00001", "2026-11-14", 145_173n],
    ]);
    expect(await october()).toEqual([
      ["OUT", 130_200n, 29_946n],
      ["OUTRC", 130_200n, 29_946n],
    ]);
    const view = must(await getSale(await clerk(), { id: done.id }));
    expect(view).toMatchObject({ status: "posted", mayChange: false, mayCancel: true });
    const list = must(await listSales(await clerk(), { company: "ALP" }));
    expect(list.rows[0]).toMatchObject({ number: done.number, amount: 290_346n, left: 290_346n });
    expect(await faults()).toEqual([]);
  });

  test("in another currency, its exchange rate is that of its day, and its ageing agrees", async () => {
    must(
      await loadRates(await root(), {
        rows: [{ kind: "spot", base: "USD", quote: "EUR", date: "2026-10-05", rate: "0.9" }],
        take: true,
      }),
    );
    const done = await posted(
      sale([berth({ price: "100.00", quantity: "1" })], { currency: "USD" }),
    );
    expect(await linesOf(done.journal)).toEqual([
      "4130 credit 9000",
      "2210 credit 2070",
      "1310 debit 11070",
    ]);
    const ages = must(
      await ageing(await clerk(), { company: "ALP", area: "receivables", on: "2026-10-15" }),
    );
    expect(ages.rows[0]!.total).toBe(290_346n + 11_070n);
    expect(await faults()).toEqual([]);
  });

  test("what stands against it is said at its fields; nothing is given a number", async () => {
    const bad = sale([berth({ price: "x" }), berth({ taxCode: "S" })], { customer: "nobody" });
    const check = must(await checkSale(await clerk(), bad));
    expect(check.problems.map((p) => [p.line, p.field])).toEqual([
      [1, "price"],
      [null, "customer"],
      [2, "taxCode"],
    ]);
    const kept = must(await saveSale(await clerk(), { content: bad }));
    const { id, version } = kept;
    expect(codes(await postSale(await clerk(), { id, version, content: bad }))).not.toEqual([]);
    const closed = sale([berth()], { date: "2026-11-05" });
    expect(
      codes(await postSale(await clerk(), { id, version, content: closed })).length,
    ).toBeGreaterThan(0);
    expect((await posted(sale([berth()]))).number).toBe("ALP-26-S00003");
  });

  test("two people who post the same draft make one invoice", async () => {
    const content = sale([berth()]);
    const { id, version } = must(await saveSale(await clerk(), { content }));
    const [a, b] = await Promise.all([
      postSale(await clerk(), { id, version, content }),
      postSale(await root(), { id, version, content }),
    ]);
    expect([a.ok, b.ok].filter(Boolean)).toHaveLength(1);
    const left = must(await listSales(await clerk(), { company: "ALP" }));
    expect(left.rows.filter((r) => r.id === id)).toHaveLength(1);
  });
});

describe("credit notes", () => {
  test("one takes over the lines of its invoice, and no more than is left of it", async () => {
    const invoice = await posted(sale([berth()]));
    const [found] = must(
      await correctableSales(await clerk(), { company: "ALP", customer: "FEN" }),
    ).filter((f) => f.number === invoice.number);
    const note = (quantity: string) =>
      sale([{ ...found!.lines[0]!, quantity }], { kind: "credit note", corrects: invoice.number });
    const done = await posted(note("20"));
    expect(await linesOf(done.journal)).toEqual([
      "4130 debit 84000",
      "2210 debit 19320",
      "1310 credit 103320",
    ]);
    const check = must(await checkSale(await clerk(), note("12")));
    expect(check.problems.map((p) => p.message)).toEqual([
      expect.stringContaining("come to 1,653.12 EUR, more than its 1,601.46 EUR"),
    ]);
    expect(must(await getSale(await clerk(), { id: invoice.id })).correctedBy).toEqual([
      { id: done.id, number: done.number },
    ]);
    expect(
      codes(await cancelSale(await root(), { id: invoice.id, reason: "wrong customer" })),
    ).toEqual(["IN_USE"]);
    expect(await faults()).toEqual([]);
  });
  test("one that names no invoice of the customer is refused", async () => {
    const check = must(
      await checkSale(
        await clerk(),
        sale([berth()], { kind: "credit note", corrects: "ALP-26-S09999" }),
      ),
    );
    expect(check.problems.map((p) => p.field)).toEqual(["corrects"]);
  });
});

describe("what was posted is taken back", () => {
  test("before it went out, with its tax; afterwards by a credit note alone", async () => {
    const before = await october();
    const wrong = await posted(sale([berth()]));
    must(await cancelSale(await root(), { id: wrong.id, reason: "wrong customer" }));
    expect(await october()).toEqual(before);
    const sent = await posted(sale([berth()]));
    must(await sendSale(await clerk(), { id: sent.id }));
    expect(codes(await cancelSale(await root(), { id: sent.id, reason: "wrong" }))).toEqual([
      "IN_USE",
    ]);
    expect(await faults()).toEqual([]);
  });
  test("not while anything is settled of it", async () => {
    const invoice = await posted(sale([berth()]));
    const note = await posted(
      sale([berth({ quantity: "1" })], { kind: "credit note", corrects: "" }),
    );
    const items = must(
      await openItems(await clerk(), {
        company: "ALP",
        area: "receivables",
        partner: "FEN",
        on: "2026-10-15",
      }),
    );
    const itemOf = (number: string) => items.find((i) => i.reference === number)!.id;
    must(
      await allocateItems(await clerk(), {
        date: "2026-10-15",
        pairs: [{ first: itemOf(invoice.number), second: itemOf(note.number), amount: "51.66" }],
      }),
    );
    expect((await cancelSale(await root(), { id: invoice.id, reason: "wrong" })).ok).toBe(false);
  });
});

describe("who may", () => {
  test("over a rule's limit a second person approves it, and whoever wrote it can't", async () => {
    must(
      await saveApprovalRule(await root(), {
        type: "sales",
        role: "controller",
        minimum: "5,000.00",
        currency: "EUR",
      }),
    );
    const content = sale([berth({ quantity: "200" })]);
    const kept = must(await saveSale(await clerk(), { content }));
    const { id, version } = kept;
    expect(kept.approval).not.toBeNull();
    expect(codes(await postSale(await clerk(), { id, version, content }))).toEqual([
      "APPROVAL_NEEDED",
    ]);
    must(await submitSale(await clerk(), { id, version, content }));
    expect((await approveDocument(await clerk(), { id })).ok).toBe(false);
    must(await approveDocument(await callerOf(w.database, "controller"), { id }));
    expect(must(await getSale(await clerk(), { id })).status).toBe("posted");
  });
  test("whoever is blocked for invoices gets none, but a credit note", async () => {
    must(
      await savePartner(await clerk(), {
        ...customer,
        code: "BLK",
        name: "Blocked Berths",
        taxNumber: "",
        blocks: ["invoices"],
        blockReason: "insolvent",
      }),
    );
    const of = async (kind: "invoice" | "credit note") =>
      must(await checkSale(await clerk(), sale([berth()], { customer: "BLK", kind }))).problems.map(
        (p) => p.message,
      );
    expect(await of("invoice")).toEqual([expect.stringContaining("is blocked: insolvent")]);
    expect(await of("credit note")).toEqual([]);
  });
  test("credit is said by limit, open items and the invoice, in the company's currency", async () => {
    must(
      await savePartner(await clerk(), {
        ...customer,
        code: "LIM",
        name: "Limited Launches",
        taxNumber: "",
        creditLimit: "1,000.00",
        creditCurrency: "EUR",
      }),
    );
    const content = sale([berth()], { customer: "LIM" });
    const { credit, problems } = must(await checkSale(await clerk(), content));
    expect(credit).toMatchObject({ limit: 100_000n, open: 0n, after: 160_146n, over: true });
    expect(problems).toEqual([]);
  });
});

describe("where a limit is never passed", () => {
  test("an invoice over it is refused, and one whose limit no rate tells of", async () => {
    must(await saveReceivablesSettings(await root(), { creditRule: "refuse" }));
    const faultsOf = async (code: string) =>
      must(await checkSale(await clerk(), sale([berth()], { customer: code }))).problems.map(
        (p) => p.message,
      );
    expect(await faultsOf("LIM")).toEqual([expect.stringContaining("more than the limit")]);
    must(
      await savePartner(await clerk(), {
        ...customer,
        code: "YEN",
        name: "Yen Yachts",
        taxNumber: "",
        creditLimit: "100000",
        creditCurrency: "JPY",
      }),
    );
    expect(await faultsOf("YEN")).toEqual([expect.stringContaining("no rate from it into EUR")]);
    must(await saveReceivablesSettings(await root(), { creditRule: "warn" }));
    expect(await faultsOf("YEN")).toEqual([]);
  });
});

describe("the paper", () => {
  test("the PDF carries what the law wants, and goes to the mailbox", async () => {
    const done = await posted(
      sale([berth({ discount: "10" }), berth({ taxCode: "OUTRC" })], {
        discount: "5",
        reference: "PO 4711",
      }),
    );
    const text = await textOfPdf(must(await getSalePdf(await clerk(), { id: done.id })).file);
    for (const part of [
      done.number,
      "PO 4711",
      "DE123456789",
      "1,171.80",
      "Article 196",
      "31 days",
    ])
      expect(text).toContain(part);
    expect(must(await sendSale(await clerk(), { id: done.id })).to).toBe(customer.email);
    const [mail] = must(await listOutbox(await clerk(), { company: "ALP" }));
    expect(mail).toMatchObject({
      subject: `Invoice ${done.number}`,
      files: [
        { no: 1, name: `${done.number}.pdf` },
        { no: 2, name: `${done.number}.xml` },
      ],
    });
    const file = async (no: number) => getMessageFile(await clerk(), { id: mail!.id, no });
    expect(must(await file(2)).content.toString()).toBe(
      must(await getSaleUbl(await clerk(), { id: done.id })).text,
    );
    expect(codes(await file(3))).toEqual(["NOT_FOUND"]);
  });
  test("one whose customer gets an address later goes there; what no e-invoice can be made of goes as a PDF", async () => {
    must(
      await savePartner(await clerk(), { ...customer, code: "LAT", name: "Latecomer", email: "" }),
    );
    const done = await posted(sale([berth()], { customer: "LAT" }));
    const send = async () => sendSale(await clerk(), { id: done.id });
    expect(codes(await send())).toEqual(["INVALID"]);
    const email = "desk@latecomer.example";
    must(
      await savePartner(await clerk(), {
        ...customer,
        code: "LAT",
        name: "Latecomer",
        email,
        version: 1,
      }),
    );
    expect(must(await send()).to).toBe(email);
    // Two codes of one rate are rounded apart; the standard rounds them together.
    const second = { code: "OUT2", name: "VAT", direction: "sale", kind: "standard" };
    must(
      await saveTaxCode(await root(), { ...second, owedAccount: "2210", returnLine: "S1", rates }),
    );
    const cents = { price: "0.02", quantity: "1" };
    const { id } = await posted(
      sale([berth(cents), berth({ ...cents, taxCode: "OUT2" })], { customer: "LAT" }),
    );
    expect(must(await sendSale(await clerk(), { id })).noEInvoice).toMatch(/BR-CO-17/);
    const [mail] = must(await listOutbox(await clerk(), { company: "ALP" }));
    expect(mail!.files).toHaveLength(1);
  });
  test("one to another company of the group is a supplier's draft there, once, with both papers", async () => {
    const beta = { code: "BET", name: "Beta Yard", currency: "GBP", country: "GB" };
    must(await saveCompany(await root(), { ...beta, taxNumber: "GB999000017" }));
    const yard = { code: "YRD", name: "Beta Yard", country: "GB", taxNumber: "GB999000017" };
    must(await savePartner(await clerk(), { ...yard, customer: true }));
    const ferries = { code: "FER", name: "Alpha Ferries", country: "DE", taxNumber: "DE999999999" };
    must(await savePartner(await clerk(), { ...ferries, supplier: true, account: "6310" }));
    const done = await posted(sale([berth()], { customer: "YRD" }));
    // Whoever sells here need not see anything of the suppliers there.
    const own = await clerk();
    const grants = [{ role: "receivables" as const, company: "ALP" }];
    const seller = { ...own, person: { ...own.person!, grants } };
    const send = async () => must(await sendSale(seller, { id: done.id }));
    expect(await send()).toEqual({ to: "BET", isNewThere: true, noEInvoice: "" });
    const there = async () => must(await listInvoices(await root(), { company: "BET" })).rows;
    const [draft] = await there();
    expect(draft).toMatchObject({ status: "draft", supplier: "FER", supplierNumber: done.number });
    const view = must(await getInvoice(await root(), { id: draft!.id }));
    // What tax of it is recovered there is for whoever looks at it there.
    expect([view.content.total, draft!.amount]).toEqual(["1,601.46", 130_200n]);
    const papers = must(await papersOf(await root(), { kind: "invoice", id: draft!.id }));
    expect(papers.attachments.map((p) => p.name)).toEqual([
      `${done.number}.xml`,
      `${done.number}.pdf`,
    ]);
    expect(await send()).toEqual({ to: "BET", isNewThere: false, noEInvoice: "" });
    expect(await there()).toHaveLength(1);
    const [mail] = must(await listOutbox(await clerk(), { company: "ALP" }));
    expect(mail!.document?.id).not.toBe(done.id);
  });
  test("the e-invoice is read back without contradiction, to the cent of what was posted", async () => {
    const done = await posted(
      sale([berth({ discount: "12.5" }), berth({ price: "0.333" }), berth({ taxCode: "OUTRC" })], {
        discount: "2.5",
      }),
    );
    const { text } = must(await getSaleUbl(await clerk(), { id: done.id }));
    const read = readEInvoice(text);
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    expect(doubtsOfPaper(read.value)).toEqual([]);
    const view = must(await getSale(await clerk(), { id: done.id }));
    expect(read.value).toMatchObject({ number: done.number, currency: "EUR" });
    expect(BigInt(read.value.sums.payable.replace(".", ""))).toBe(view.figures.gross);
  });
  test("a draft does not go out", async () => {
    const { id } = must(await saveSale(await clerk(), { content: sale([berth()]) }));
    expect(codes(await getSalePdf(await clerk(), { id }))).toEqual(["INVALID"]);
    expect(codes(await sendSale(await clerk(), { id }))).toEqual(["INVALID"]);
  });
  test("what it says stays, wherever the customer moves", async () => {
    const done = await posted(sale([berth()]));
    must(await savePartner(await clerk(), { ...customer, name: "Fennick & Sons", version: 1 }));
    const text = await textOfPdf(must(await getSalePdf(await clerk(), { id: done.id })).file);
    expect(text).toContain("Fennick Freight");
  });
});

describe("prepayments", () => {
  const asking = () => sale([berth({ quantity: "1", price: "1000.00" })], { prepayment: true });
  const last = (number: string, off = "-1000.00") =>
    sale([berth({ price: "100.00" }), { net: off, taxCode: "OUT", setsOff: number }]);
  const left = async () =>
    must(await listPrepayments(await clerk(), { company: "ALP", customer: "FEN" })).map((p) => [
      p.number,
      p.left,
      p.paid,
    ]);

  test("are asked for, set off by the last invoice, and come back where that is cancelled", async () => {
    const none = await checkSale(await clerk(), asking());
    expect(
      must(none)
        .problems.map((p) => p.message)
        .join(),
    ).toMatch(/no account is set for prepayments/);
    const settings = must(await receivablesSettings(await root(), {}));
    const set = async (prepaymentAccount: string) =>
      saveReceivablesSettings(await root(), { ...settings, prepaymentAccount });
    expect(codes(await set("4130"))).toEqual(["INVALID"]);
    must(await set("2420"));
    const first = await posted(asking());
    expect(await linesOf(first.journal)).toContain("2420 credit 100000");
    expect(await left()).toEqual([[first.number, 100_000n, false]]);
    const { text } = must(await getSaleUbl(await clerk(), { id: first.id }));
    expect(text).toContain("<cbc:InvoiceTypeCode>386<");
    const pdf = await textOfPdf(must(await getSalePdf(await clerk(), { id: first.id })).file);
    expect(pdf).toContain("Prepayment invoice");
    const done = await posted(last(first.number));
    expect(await linesOf(done.journal)).toContain("2420 debit 100000");
    expect(await left()).toEqual([]);
    const cancelled = await cancelSale(await clerk(), {
      id: first.id,
      reason: "not wanted any more",
    });
    expect(codes(cancelled)).toEqual(["IN_USE"]);
    const change = (by: number) =>
      w.database.db.execute(
        sql`update prepayment set amount = amount + ${by} where document_id = ${done.id}`,
      );
    await change(-1);
    expect((await faults()).join()).toMatch(/posts that on no account.*beyond what was asked for/);
    await change(1);
    must(await cancelSale(await clerk(), { id: done.id, reason: "wrong month invoiced" }));
    expect(await left()).toEqual([[first.number, 100_000n, false]]);
    expect(await faults()).toEqual([]);
  });

  test("two people who set off the same at the same moment: one of them", async () => {
    const [[number] = []] = await left();
    const drafts = await Promise.all(
      [1, 2].map(async () =>
        must(await saveSale(await clerk(), { content: last(number as string) })),
      ),
    );
    const both = await Promise.all(
      drafts.map(async ({ id, version }) =>
        postSale(await clerk(), { id, version, content: last(number as string) }),
      ),
    );
    expect(both.filter((b) => b.ok)).toHaveLength(1);
    expect(await left()).toEqual([]);
    // What its credit note gives back is set off anew: then the credit note stays.
    const done = both.find((b) => b.ok)!;
    const content = last(number as string);
    const back = await posted({ ...content, kind: "credit note", corrects: must(done).number });
    expect(await left()).toEqual([[number, 100_000n, false]]);
    await posted(content);
    expect(
      codes(await cancelSale(await clerk(), { id: back.id, reason: "credited by mistake" })),
    ).toEqual(["INVALID"]);
    expect(await left()).toEqual([]);
  });
});

test("what is supplied elsewhere and on another day says so on both papers, as it was when it was posted", async () => {
  const depot = { ...customer, code: "DEP", name: "Depot & Sons", taxNumber: "" };
  const away = { deliveryName: "Yard 3", deliveryCity: "Gdynia", deliveryStreet: "2 Dock" };
  const half = await savePartner(await clerk(), { ...depot, deliveryStreet: "2 Dock" });
  expect(half.ok ? "" : half.problems[0]).toMatchObject({ field: "deliveryCity" });
  must(await savePartner(await clerk(), { ...depot, ...away, deliveryCountry: "PL" }));
  const wrong = sale([berth()], { customer: "DEP", deliveredOn: "31 Sept" });
  expect(must(await checkSale(await clerk(), wrong)).problems.map((p) => p.field)).toContain(
    "deliveredOn",
  );
  const done = await posted(sale([berth()], { customer: "DEP", deliveredOn: "28 Sep 2026" }));
  must(await savePartner(await clerk(), { ...depot, version: 1 }));
  const pdf = await textOfPdf(must(await getSalePdf(await clerk(), { id: done.id })).file);
  for (const said of ["Delivered to", "Yard 3", "Gdynia", "PL", "28 Sep 2026"])
    expect(pdf).toContain(said);
  const { text } = must(await getSaleUbl(await clerk(), { id: done.id }));
  expect(text).toMatch(/ActualDeliveryDate>2026-09-28<[^]*Gdynia[^]*Code>PL<[^]*Yard 3/);
});

test("a table of invoices comes in as drafts, rows of one invoice together; a fault is told with its row", async () => {
  const row = (invoice: string, customer: string, more: object = {}) => ({
    invoice,
    customer,
    date: "2026-10-06",
    account: "4130",
    "cost centre": "HARB",
    quantity: "2",
    price: "50.00",
    description: "Berth",
    tax: "OUT",
    ...more,
  });
  const rows = [row("1", "FEN"), row("1", "FEN", { price: "7.50" }), row("2", "FEN")];
  const load = async (more: object) => loadSales(await clerk(), { company: "ALP", rows, ...more });
  const drafts = async () =>
    must(await listSales(await clerk(), { company: "ALP", status: "draft" })).rows.map((r) => r.id);
  const before = await drafts();
  expect(must(await load({}))).toEqual({ added: 2, changed: 0, same: 0 });
  expect(await drafts()).toEqual(before);
  const wrong = await load({
    take: true,
    rows: [...rows, row("3", "NOBODY"), row("4", "FEN", { price: "x" })],
  });
  expect(wrong.ok ? [] : wrong.problems.map((p) => ("line" in p ? p.line : 0))).toEqual(
    expect.arrayContaining([5, 6]),
  );
  expect(await drafts()).toEqual(before);
  must(await load({ take: true }));
  expect((await drafts()).length).toBe(before.length + 2);
});
