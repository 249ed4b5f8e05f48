import { saleInput } from "@/core/receivables";
import type { CalendarDate, Result } from "@/core/shared";
import { saveAgreement, savePriceIndex } from "@/server/receivables";
import type { At } from "./buying";
import { partnerCode } from "./partners";
import { CUSTOMERS } from "./structure";

type Must = <T>(result: Result<T>, what: string) => T;

/** What was agreed with two customers, at prices that follow the index of consumer prices. */
export async function agreeOnPrices(worksAt: At, must: Must, day: CalendarDate): Promise<void> {
  const controller = await worksAt("controller", day, 9);
  must(
    await savePriceIndex(controller, {
      code: "CONSUMER",
      name: "Consumer prices, 2020 = 100",
      values: [
        { from: "2025-01-01", value: "118.4" },
        { from: "2025-07-01", value: "119.9" },
        { from: "2026-01-01", value: "121.2" },
        { from: "2026-07-01", value: "123.6" },
      ],
    }),
    "index of consumer prices",
  );
  const clerk = await worksAt("receivables", day, 10);
  const agreements = [
    {
      name: "Visitor berths, Wren Yacht Club",
      rhythm: { every: 3, unit: "month", first: "30 Nov 2026", until: "31 Dec 2028" },
      clause: { index: "CONSUMER", base: "118.4", least: "3" },
      sale: {
        customer: partnerCode(CUSTOMERS.yacht),
        description: "Visitor berths, {q} {yyyy}",
        lines: [
          {
            item: "BERTH-VIS",
            account: "4210",
            dimensions: { costCentre: "HARB" },
            description: "Berths 1 to 12, {q} {yyyy}",
            quantity: "12",
            price: "310.00",
            taxCode: "V13",
          },
        ],
      },
    },
    {
      name: "Lorry lane on the night boat, Fennick Freight",
      rhythm: { every: 1, unit: "month", first: "15 Nov 2026", until: "" },
      clause: { index: "CONSUMER", base: "121.2", least: "2.5" },
      sale: {
        customer: partnerCode(CUSTOMERS.freight),
        reference: "FF-LANE",
        description: "Night boat, {month} {yyyy}",
        lines: [
          {
            item: "LANE-NIGHT",
            account: "4130",
            dimensions: { costCentre: "R-INN" },
            description: "Reserved lane, {month} {yyyy}",
            quantity: "1",
            price: "4,200.00",
            taxCode: "V13",
          },
        ],
      },
    },
  ];
  for (const { sale, ...a } of agreements)
    must(
      await saveAgreement(clerk, {
        agreement: { ...a, sale: saleInput({ company: "HSF", ...sale }) },
      }),
      a.name,
    );
}
