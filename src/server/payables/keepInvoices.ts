import { numberKey, type InvoiceInput, type InvoiceReading } from "@/core/payables";
import { decimalText, isCurrency, minor, type Minor } from "@/core/shared";
import type { KeptStore } from "../keptDocuments";
import { partnersByCode } from "../partners";

/** What is owed by an invoice as the register has it: credit notes are negative. */
export const signedTotal = (input: InvoiceInput, reading: InvoiceReading): Minor =>
  minor(input.kind === "credit note" ? -reading.gross : reading.gross);

/** How invoices are kept: what was typed, and what the register says of it. */
export const INVOICES: KeptStore<InvoiceInput, { reading: InvoiceReading }> = {
  kinds: ["invoice"],
  table: "invoice",
  register: async ({ tx, masters }, papers) => {
    const partners = await partnersByCode(
      tx,
      papers.map((p) => p.content.supplier),
    );
    return papers.map(({ content, prepared: { reading } }) => {
      const company = masters.companyByCode.get(content.company)!;
      const partner = partners.get(content.supplier.trim());
      const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
      const supplier = partner?.name || content.supplier || "Supplier";
      return {
        type: content.kind,
        companyId: company.id,
        date: reading.date || null,
        amount: signedTotal(content, reading),
        currency,
        title: `${supplier}, ${content.number.trim() || "no number yet"}`,
        words: `${content.description} ${decimalText(reading.gross, currency)}`,
        partnerId: partner?.id ?? null,
        due: reading.instalments.at(-1)?.due || null,
      };
    });
  },
  columns: (papers, entries) => ({
    partner_id: { type: "int", values: entries.map((e) => e.partnerId ?? null) },
    number_key: { type: "text", values: papers.map((p) => numberKey(p.content.number)) },
  }),
};
