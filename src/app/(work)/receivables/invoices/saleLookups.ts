import type { Caller } from "@/server/access";
import { listPartners, listTerms } from "@/server/partners";
import { listShares } from "@/server/purchasing";
import { listTaxCodes } from "@/server/taxes";
import { listSaleItems } from "@/server/trade";
import { paperLookups } from "@/app/trade/paperLookups";
import type { CodingLookups } from "@/ui/grid/coding";
import type { SaleLookups } from "./[id]/saleGrid";

/** What sales are written with, of what the server lists; blocked customers are left out. */
export async function saleLookups(caller: Caller, coding: CodingLookups): Promise<SaleLookups> {
  const customers = await listPartners(caller, { role: "customer" });
  const items = await listSaleItems(caller);
  return {
    ...paperLookups(coding, {
      terms: await listTerms(caller),
      taxes: await listTaxCodes(caller, { direction: "sale" }),
      shares: await listShares(caller),
    }),
    customers: customers.ok ? customers.value.filter((c) => !c.blocked) : [],
    items: items.ok ? items.value : [],
  };
}
