import type { Client } from "./client";
import type { Scene } from "./people";
import { outcome, type Outcome } from "./report";

const AREA = "second person";

interface Partner {
  code: string;
  taxNumber: string;
  account: string;
}

/** Whoever entered an invoice that is held may not release it. */
export async function attackSecondPerson({ controller, other }: Scene): Promise<Outcome[]> {
  const supplier = await supplierWithTaxNumber(controller);
  const number = `ATTACK-${Date.now()}`;
  const xml = `<Invoice><ID>${number}</ID><IssueDate>2026-11-03</IssueDate><DocumentCurrencyCode>EUR</DocumentCurrencyCode><AccountingSupplierParty><Party><PartyTaxScheme><CompanyID>${supplier.taxNumber}</CompanyID></PartyTaxScheme><PartyLegalEntity><RegistrationName>Somebody Else Altogether</RegistrationName></PartyLegalEntity></Party></AccountingSupplierParty><LegalMonetaryTotal><TaxInclusiveAmount>9.00</TaxInclusiveAmount></LegalMonetaryTotal><InvoiceLine><LineExtensionAmount>9.00</LineExtensionAmount><Item><Name>Rope</Name><ClassifiedTaxCategory><ID>E</ID><Percent>0</Percent></ClassifiedTaxCategory></Item></InvoiceLine></Invoice>`;
  const loaded = await controller.post("/api/v1/e-invoices", { company: other, xml });
  const { id, doubts } = JSON.parse(loaded.text) as { id: number; doubts: string[] };
  const posted = await controller.post(`/api/v1/invoices/${id}/post`, {});
  const released = await controller.post(`/api/v1/invoices/${id}/release`, { reason: "fine" });
  const holds = posted.text.includes('"held"');
  return [
    outcome(
      AREA,
      "an invoice of another sender",
      "a doubt",
      `${doubts.length} doubts`,
      doubts.length > 0,
    ),
    outcome(AREA, "posts it", "held", posted.text.slice(0, 40), holds),
    outcome(AREA, "releases it themselves", "refused", released.status, released.status >= 400),
  ];
}

async function supplierWithTaxNumber(client: Client): Promise<Partner> {
  const { items } = await client.read<{ items: Partner[] }>("/api/v1/partners?role=supplier");
  for (const { code } of items) {
    const partner = await client.read<Partner>(`/api/v1/partners/${code}`);
    if (partner.taxNumber !== "" && partner.account !== "") return partner;
  }
  throw new Error("no supplier has a tax number and an account");
}
