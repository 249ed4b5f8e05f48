import { addDays, endOfMonth, type CalendarDate } from "@/core/shared";
import { cc, credit, debit, share, units, type Books } from "./books";
import { CUSTOMERS, DOCKING, SUPPLIERS } from "./structure";

/**
 * Merrow Boatyard: repairs and refits, busy in winter, a good part of it for the ferries of the
 * group. Pounds.
 */
export function openYard(b: Books): void {
  b.open([
    ["1050", 650_000],
    ["1060", 1_900_000],
    ["1061", -720_000],
    ["1075", 1_450_000],
    ["1076", -610_000],
    ["1080", 180_000],
    ["1081", -95_000],
    ["1100", 3_200],
    ["1110", 912_000],
    ["1220", 64_000],
    ["1230", 240_000],
    ["1250", 310_000],
    ["1310", 486_000],
    ["2140", -268_000],
    ["2250", -41_000],
    ["2260", -33_000],
    ["2640", -900_000],
    ["2730", -120_000],
    ["3010", -1_500_000],
  ]);
}

export function yardMonth(b: Books, first: CalendarDate): void {
  const month = Number(first.slice(5, 7)) - 1;
  const last = endOfMonth(first);
  const level = b.growth(first);
  const busy = (0.65 + 0.35 * DOCKING[month]!) * level;
  const day = (n: number) => addDays(first, n - 1);

  const work: [number, string, string, string, string, number, number][] = [
    [4, CUSTOMERS.yacht, "winter lay-up and repairs", "4310", "Y-HULL", 52_000, 6],
    [8, CUSTOMERS.fish, "engine overhaul", "4310", "Y-ENG", 71_000, 21],
    [11, CUSTOMERS.council, "pilot boat, repairs", "4310", "Y-HULL", 38_000, 14],
    [15, CUSTOMERS.cruise, "tender refit", "4320", "Y-RIG", 92_000, 8],
    [18, CUSTOMERS.builders, "barge, hull plates", "4310", "Y-HULL", 33_000, 40],
    [23, CUSTOMERS.yacht, "berthing and hauling-out", "4330", "Y-RIG", 21_000, 2],
  ];
  for (const [d, customer, text, account, centre, amount, late] of work)
    b.sell(
      day(d),
      customer,
      text,
      [
        { account, net: b.around(amount * busy), coding: cc(centre) },
        { account: "4310", net: b.around(amount * 0.18 * busy), coding: cc("Y-ENG") },
      ],
      late + b.random.between(-2, 9),
    );
  if (month % 3 === 2) {
    const refit = b.around(202_000 * DOCKING[month]! + 52_000);
    b.add(
      "sales",
      day(24),
      "Hollin Sound Ferries, refit work",
      [
        debit("1340", refit, {}, "Hollin Sound Ferries", "HSF"),
        credit("4340", share(refit, 0.6), cc("Y-HULL")),
        credit("4340", refit - share(refit, 0.6), cc("Y-ENG")),
      ],
      "receivables",
    );
    b.add(
      "receipt",
      addDays(day(24), 21),
      "From Hollin Sound Ferries",
      [debit("1110", share(refit, 0.9)), credit("1340", share(refit, 0.9), {}, "", "HSF")],
      "receivables",
    );
  }
  const purchases: [number, string, string, string, string, number][] = [
    [3, SUPPLIERS.steel, "plates and sections", "5610", "Y-HULL", 48_000],
    [7, SUPPLIERS.engines, "engine parts", "5610", "Y-ENG", 41_000],
    [10, SUPPLIERS.paint, "antifouling and paints", "5610", "Y-RIG", 22_000],
    [12, SUPPLIERS.rope, "rigging", "5610", "Y-RIG", 13_500],
    [14, SUPPLIERS.electricity, "electricity", "6630", "Y-HULL", 9_800],
    [17, SUPPLIERS.software, "drawing office software", "7220", "A-OFF", 4_100],
    [19, SUPPLIERS.cleaning, "waste oil and cleaning", "6260", "Y-ENG", 5_200],
    [22, SUPPLIERS.shipyard, "subcontracted welding", "5620", "Y-HULL", 34_000],
  ];
  for (const [d, supplier, text, account, centre, amount] of purchases)
    b.buy(day(d), supplier, text, [
      {
        account,
        net: b.around(amount * (account === "5610" || account === "5620" ? busy : 1)),
        coding: cc(centre, account === "5620" && first >= "2025-06-01" ? "P-068" : undefined),
      },
      { account: "7240", net: b.around(240), coding: cc("A-OFF") },
    ]);
  if (month % 3 === 0)
    b.buy(day(20), SUPPLIERS.insurance, "yard and liability, quarter", [
      { account: "1440", net: units(24_000), coding: {} },
    ]);
  for (const { from, to } of b.weeks(first)) b.settle(from, to);

  const wage = (account: string, centre: string, amount: number) => ({
    account,
    amount: b.around(amount * level, 0.02),
    coding: cc(centre),
  });
  const wages = [
    wage("5410", "Y-HULL", 62_000),
    wage("5410", "Y-ENG", 48_000),
    wage("5410", "Y-RIG", 37_000),
  ];
  const office = [wage("7010", "A-FIN", 13_500), wage("7010", "A-OFF", 9_800)];
  b.payroll(
    first,
    [...wages, ...office],
    [
      ...wages.map((w) => ({ account: "5415", coding: w.coding, of: w.amount })),
      ...office.map((w) => ({ account: "7020", coding: w.coding, of: w.amount })),
    ],
  );
  b.depreciation(first, [
    ["8020", "1061", 5_300, "Y-HULL"],
    ["8030", "1076", 9_800, "Y-ENG"],
    ["8030", "1081", 1_900, "Y-RIG"],
  ]);
  b.add(
    "general",
    last,
    `Insurance for the month ${first.slice(0, 7)}`,
    [
      debit("6620", units(5_200), cc("Y-HULL")),
      debit("6610", units(2_800), cc("Y-ENG")),
      credit("1440", units(8_000)),
    ],
    "accountant",
    { delay: 0 },
  );
  const wip = b.around(28_000 * (DOCKING[month]! - 0.95), 0.3);
  b.add(
    "stock",
    last,
    `Change in work in progress ${first.slice(0, 7)}`,
    wip > 0n
      ? [debit("1250", wip), credit("4320", wip, cc("Y-HULL"))]
      : [debit("4320", -wip, cc("Y-HULL")), credit("1250", -wip)],
    "accountant",
    { delay: 1 },
  );
  b.add(
    "bank",
    day(27),
    "Interest on the loan from the group",
    [debit("8520", units(3_750)), credit("1110", units(3_750))],
    "treasury",
  );
  b.declareVat(first);
  b.monthEnd(first, b.around(9_500 * busy), [
    {
      account: "5620",
      amount: b.around(6_000 * busy),
      coding: cc("Y-RIG"),
      text: "Subcontractors",
    },
    { account: "7420", amount: b.around(2_200), coding: cc("A-FIN"), text: "Advice" },
  ]);
}
