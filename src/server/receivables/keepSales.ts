import type { SaleInput, SaleReading } from "@/core/receivables";
import { decimalText, isCurrency, minor } from "@/core/shared";
import type { KeptStore } from "../keptDocuments";
import { partnersByCode } from "../partners";

/** How sales are kept: what was typed, and what the register says of it; credit notes are negative. */
export const SALES: KeptStore<SaleInput, { reading: SaleReading }> = {
  kinds: ["sale"],
  table: "sale",
  register: async ({ tx, masters }, papers) => {
    const partners = await partnersByCode(
      tx,
      papers.map((p) => p.content.customer),
    );
    return papers.map(({ content, prepared: { reading } }) => {
      const company = masters.companyByCode.get(content.company)!;
      const partner = partners.get(content.customer.trim());
      const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
      const customer = partner?.name || content.customer || "Customer";
      const about = content.description.trim() || content.reference.trim();
      return {
        type: content.kind,
        companyId: company.id,
        date: reading.date || null,
        amount: minor(content.kind === "credit note" ? -reading.gross : reading.gross),
        currency,
        title: about ? `${customer}, ${about}` : customer,
        words: `${content.reference} ${decimalText(reading.gross, currency)}`,
        partnerId: partner?.id ?? null,
        due: reading.instalments.at(-1)?.due || null,
      };
    });
  },
  columns: (_papers, entries) => ({
    partner_id: { type: "int", values: entries.map((e) => e.partnerId ?? null) },
  }),
};
