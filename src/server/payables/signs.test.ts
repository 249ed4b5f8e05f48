import { beforeAll, describe, expect, test } from "vitest";
import { callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { approveDocument, saveApprovalRule } from "../approvals";
import { addPartnerBank, decidePartnerBank, savePartner } from "../partners";
import { saveTaxCode } from "../taxes";
import {
  getInvoice,
  loadEInvoice,
  postInvoice,
  releaseInvoice,
  saveInvoice,
  submitInvoice,
} from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const clerk = () => callerOf(w.database, "payables");
const [FIRST, SECOND] = ["DE89370400440532013000", "DE02100100100006820101"];

beforeAll(async () => {
  const rates = [{ from: "2020-01-01", percent: "0" }];
  must(await saveTaxCode(await root(), { code: "Z", name: "None", kind: "none", rates }));
  for (const [code, name, taxNumber] of [
    ["ROPE", "Tarn Rope", "IE1111111A"],
    ["PAINT", "Sound Paint", "IE2222222B"],
    ["TWIN", "Sound Paint Yard", "IE2222222B"],
  ] as const)
    must(
      await savePartner(await clerk(), {
        code,
        name,
        supplier: true,
        country: "IE",
        taxNumber,
        account: "6310",
      }),
    );
});

const content = (supplier: string, number: string, net: string) => ({
  company: "ALP",
  supplier,
  number,
  date: "2026-10-02",
  lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "Z" }],
});
/** Posts an invoice; what holds it, where something does. */
const bill = async (supplier: string, number: string, net: string) => {
  const kept = must(await saveInvoice(await clerk(), { content: content(supplier, number, net) }));
  const posted = must(
    await postInvoice(await clerk(), {
      id: kept.id,
      version: kept.version,
      content: content(supplier, number, net),
    }),
  );
  return { id: kept.id, held: posted.held ?? [] };
};
const account = async (partner: string, iban: string) => {
  const { id } = must(await addPartnerBank(await clerk(), { partner, iban }));
  must(await decidePartnerBank(await root(), { id, to: "confirmed" }));
};

describe("signs of fraud hold an invoice", () => {
  test("a number unlike the supplier's others, and the third total just below an approval limit: posted when a second person has decided", async () => {
    must(
      await saveApprovalRule(await root(), {
        type: "purchase",
        company: "ALP",
        minimum: "1,000.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    for (const [i, net] of ["10.00", "20.00", "30.00", "960.00", "999.99"].entries())
      expect((await bill("ROPE", `R-${100 + i}`, net)).held).toEqual([]);
    const { id, held } = await bill("ROPE", "2026/7", "980.00");
    expect(held).toEqual([
      "Number 2026/7 is unlike those on the other invoices of Tarn Rope.",
      "The total is just below 1,000.00 EUR, from which approval is needed, and so are others of the last three months.",
    ]);
    expect(must(await getInvoice(await clerk(), { id })).check?.holds).toEqual(held);
    must(await releaseInvoice(await root(), { id, reason: "a new series, seen on the paper" }));
    expect(must(await getInvoice(await clerk(), { id })).status).toBe("posted");
  });

  test("what is held is not sent for approval either: it is decided on first, and stays decided while others are posted", async () => {
    for (const i of [1, 2, 3, 4, 5]) await bill("TWIN", `R-${i}`, `${i}.00`);
    const big = content("TWIN", "2026/8", "5,000.00");
    const kept = must(await saveInvoice(await clerk(), { content: big }));
    const sent = must(
      await submitInvoice(await clerk(), { id: kept.id, version: kept.version, content: big }),
    );
    expect(sent.note).toMatch(/^Held: Number 2026\/8 is unlike/);
    const { id } = kept;
    expect(must(await getInvoice(await clerk(), { id })).status).toBe("held");
    // Released by a second person it waits for approval; meanwhile the supplier's others go on.
    must(await releaseInvoice(await root(), { id, reason: "a new series, as they wrote" }));
    expect(must(await getInvoice(await clerk(), { id })).status).toBe("waiting");
    expect((await bill("TWIN", "R-6", "40.00")).held).toEqual([]);
    must(await approveDocument(await callerOf(w.database, "controller"), { id }));
    expect(must(await getInvoice(await clerk(), { id })).status).toBe("posted");
  });

  test("what comes up while it waits is told to who would approve it; nothing is posted", async () => {
    const big = content("PAINT", "77", "6,000.00");
    const kept = must(await saveInvoice(await clerk(), { content: big }));
    must(await submitInvoice(await clerk(), { id: kept.id, version: kept.version, content: big }));
    await account("PAINT", FIRST!);
    await account("PAINT", SECOND!);
    const controller = await callerOf(w.database, "controller");
    const refused = await approveDocument(controller, { id: kept.id });
    expect(refused).toMatchObject({
      ok: false,
      problems: [{ what: expect.stringContaining(SECOND!) as string }],
    });
    expect(must(await getInvoice(await clerk(), { id: kept.id })).status).toBe("waiting");
  });

  test("an account that nobody has paid to yet, confirmed in place of another", async () => {
    expect((await bill("PAINT", "2", "60.00")).held).toEqual([
      expect.stringContaining(`Nothing has been paid to ${SECOND} yet`),
    ]);
  });

  test("an e-invoice whose supplier is recognised by name alone, or by a number that two have", async () => {
    const paper = (number: string, name: string, taxNumber: string) => ({
      company: "ALP",
      content: Buffer.from(
        `<Invoice><ID>${number}</ID><IssueDate>2026-10-06</IssueDate><DocumentCurrencyCode>EUR</DocumentCurrencyCode><AccountingSupplierParty><Party><PartyTaxScheme><CompanyID>${taxNumber}</CompanyID></PartyTaxScheme><PartyLegalEntity><RegistrationName>${name}</RegistrationName></PartyLegalEntity></Party></AccountingSupplierParty><LegalMonetaryTotal><TaxInclusiveAmount>10.00</TaxInclusiveAmount></LegalMonetaryTotal><InvoiceLine><LineExtensionAmount>10.00</LineExtensionAmount><Item><Name>Rope</Name><ClassifiedTaxCategory><ID>E</ID></ClassifiedTaxCategory></Item></InvoiceLine></Invoice>`,
      ).toString("base64"),
    });
    const doubts = async (name: string, taxNumber: string) =>
      must(await loadEInvoice(await clerk(), paper(`E${name.length}${taxNumber}`, name, taxNumber)))
        .doubts;
    expect(await doubts("Tarn Rope", "IE9999999Z")).toEqual([
      "Tarn Rope was recognised by its name alone: tax number IE9999999Z is not on file.",
    ]);
    expect(await doubts("Sound Paint", "IE 2222222 B")).toEqual([
      expect.stringMatching(/Sound Paint and Sound Paint Yard have the tax number/),
    ]);
    expect(await doubts("Tarn Rope", "IE1111111A")).toEqual([]);
  });
});
