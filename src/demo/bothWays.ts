import { saleInput } from "@/core/receivables";
import type { CalendarDate, Result } from "@/core/shared";
import type { Database } from "@/server/db";
import { savePartner } from "@/server/partners";
import { createSale, sendSale } from "@/server/receivables";
import type { At } from "./buying";
import { onDay } from "./onDay";
import { demoSuppliers, partnerCode } from "./partners";
import { COMPANIES, SUPPLIERS } from "./structure";

type Must = <T>(result: Result<T>, what: string) => T;

const INVOICED: CalendarDate = "2026-10-28";
const [FERRIES, YARD] = COMPANIES;
const addressOf = ({ street, postcode, city, country, taxNumber }: (typeof COMPANIES)[number]) => ({
  street,
  postcode,
  city,
  country,
  taxNumber,
});

/**
 * Who is on both sides: a supplier that is a customer too, whose items can be netted, and a company of
 * the group, which has our invoice among its suppliers' invoices.
 */
export async function tradeBothWays(database: Database, worksAt: At, must: Must): Promise<void> {
  const { iban: _iban, ...shipyard } = demoSuppliers.find((s) => s.name === SUPPLIERS.shipyard)!;
  const controller = await worksAt("controller", INVOICED, 9);
  const both = { ...shipyard, customer: true, version: 1 };
  must(await savePartner(controller, both), shipyard.name);
  const yard = { code: "C-290", name: YARD.name, customer: true, email: "", terms: "30" };
  must(await savePartner(controller, { ...yard, ...addressOf(YARD) }), YARD.name);
  const ferries = { code: "S-190", name: FERRIES.name, supplier: true, currency: "EUR" };
  must(await savePartner(controller, { ...ferries, ...addressOf(FERRIES) }), FERRIES.name);
  await onDay(database, INVOICED, async () => {
    const clerk = await worksAt("receivables", INVOICED, 14);
    const invoice = async (customer: string, what: string, net: string, taxCode: string) =>
      must(
        await createSale(clerk, {
          ...saleInput({
            company: FERRIES.code,
            customer,
            date: INVOICED,
            description: what,
            lines: [
              {
                account: "4130",
                dimensions: { costCentre: "HARB" },
                description: what,
                net,
                taxCode,
              },
            ],
          }),
          post: true,
        }),
        what,
      );
    await invoice(partnerCode(SUPPLIERS.shipyard), "Berth of the tug, October", "1,240.00", "V23");
    const within = await invoice(yard.code, "Slip and crane, October", "3,450.00", "VRC");
    must(await sendSale(clerk, { id: within.id }), "within the group");
  });
}
