import { addDays, endOfMonth, type CalendarDate } from "@/core/shared";
import { cc, credit, debit, share, units, type Books } from "./books";
import { CUSTOMERS, SEASON, SUPPLIERS } from "./structure";

/** Kestle Island Terminals: berths, terminal fees and parking. Dollars. */
export function openTerminals(b: Books): void {
  b.open([
    ["1050", 1_100_000],
    ["1055", 5_200_000],
    ["1056", -1_870_000],
    ["1060", 2_300_000],
    ["1061", -640_000],
    ["1085", 310_000],
    ["1086", -140_000],
    ["1100", 5_400],
    ["1110", 1_240_000],
    ["1310", 295_000],
    ["1340", 118_000],
    ["1440", 22_000],
    ["2140", -122_000],
    ["2250", -22_000],
    ["2260", -18_000],
    ["2610", -2_400_000],
    ["3010", -3_000_000],
    ["3020", -800_000],
  ]);
}

export function terminalsMonth(b: Books, first: CalendarDate): void {
  const month = Number(first.slice(5, 7)) - 1;
  const last = endOfMonth(first);
  const level = b.growth(first);
  const pax = SEASON[month]! * level;
  const day = (n: number) => addDays(first, n - 1);

  for (const { from, to } of b.weeks(first)) {
    const parking = b.around(19_500 * pax);
    const shops = b.around(6_800 * pax);
    b.add(
      "sales",
      to,
      `Parking and kiosks ${from.slice(8)} to ${to.slice(8)}.${to.slice(5, 7)}.`,
      [
        debit("1126", parking + shops),
        credit("4230", share(parking, 0.7), cc("T-PARK")),
        credit("4230", parking - share(parking, 0.7), cc("T-NORTH")),
        credit("4420", shops, cc("T-NORTH")),
      ],
      "receivables",
    );
    const fee = share(parking + shops, 0.013);
    b.add(
      "bank",
      to,
      `Card payments paid out, week to ${to.slice(8)}.${to.slice(5, 7)}.`,
      [
        debit("1110", parking + shops - fee),
        debit("6230", fee, cc("T-PARK")),
        credit("1126", parking + shops),
      ],
      "treasury",
      { delay: 2 },
    );
    b.settle(from, to);
  }
  const work: [number, string, string, string, string, number, number][] = [
    [6, CUSTOMERS.cruise, "berth dues", "4210", "T-NORTH", 88_000 * pax, 12],
    [10, CUSTOMERS.fish, "berth and storage", "4240", "T-SOUTH", 26_000, 5],
    [14, CUSTOMERS.freight, "handling", "4240", "T-SOUTH", 44_000, 9],
    [20, CUSTOMERS.tours, "terminal fees", "4220", "T-NORTH", 31_000 * pax, 28],
    [26, CUSTOMERS.yacht, "visitor berths", "4210", "T-SOUTH", 18_000 * pax, 3],
  ];
  for (const [d, customer, text, account, centre, amount, late] of work)
    b.sell(
      day(d),
      customer,
      text,
      [
        { account, net: b.around(amount), coding: cc(centre) },
        { account: "4220", net: b.around(amount * 0.11), coding: cc("T-NORTH") },
      ],
      late + b.random.between(-2, 10),
    );
  const fees = b.around(127_000 * (0.7 + 0.3 * pax), 0.05);
  b.add(
    "sales",
    day(27),
    `Hollin Sound Ferries, terminal and pilot fees ${first.slice(0, 7)}`,
    [
      debit("1340", fees, {}, "Hollin Sound Ferries", "HSF"),
      credit("4220", share(fees, 0.64), cc("T-NORTH")),
      credit("4210", fees - share(fees, 0.64), cc("T-SOUTH")),
    ],
    "receivables",
  );
  b.add(
    "receipt",
    day(19),
    "From Hollin Sound Ferries, month before",
    [debit("1110", share(fees, 0.97)), credit("1340", share(fees, 0.97), {}, "", "HSF")],
    "receivables",
  );

  const purchases: [number, string, string, string, string, number][] = [
    [5, SUPPLIERS.electricity, "electricity", "6630", "T-NORTH", 17_500],
    [9, SUPPLIERS.cleaning, "cleaning", "6260", "T-NORTH", 12_400],
    [13, SUPPLIERS.stevedores, "handling gangs", "6240", "T-SOUTH", 36_000],
    [16, SUPPLIERS.steel, "fender repairs", "6310", "T-SOUTH", 14_800],
    [18, SUPPLIERS.software, "gate and booking systems", "7220", "T-PARK", 8_900],
    [21, SUPPLIERS.dredging, "berth maintenance", "6320", "T-NORTH", 19_500],
    [24, SUPPLIERS.print, "signs", "7240", "A-OFF", 2_300],
  ];
  for (const [d, supplier, text, account, centre, amount] of purchases)
    b.buy(day(d), supplier, text, [
      {
        account,
        net: b.around(amount),
        coding: cc(centre, account === "7220" && first >= "2026-03-01" ? "P-073" : undefined),
      },
      { account: "6330", net: b.around(1_150), coding: cc("T-SOUTH") },
    ]);
  if (month % 3 === 2)
    b.buy(day(12), SUPPLIERS.insurance, "property, quarter", [
      { account: "1440", net: units(33_000), coding: {} },
    ]);

  const wage = (account: string, centre: string, amount: number) => ({
    account,
    amount: b.around(amount * level, 0.02),
    coding: cc(centre),
  });
  const wages = [
    wage("5420", "T-NORTH", 46_000),
    wage("5420", "T-SOUTH", 38_000),
    wage("5420", "T-PARK", 14_000),
  ];
  const office = [wage("7010", "A-FIN", 12_200), wage("7010", "A-OFF", 8_700)];
  b.payroll(
    first,
    [...wages, ...office],
    [
      ...wages.map((w) => ({ account: "5425", coding: w.coding, of: w.amount })),
      ...office.map((w) => ({ account: "7020", coding: w.coding, of: w.amount })),
    ],
  );
  b.depreciation(first, [
    ["8020", "1056", 15_600, "T-NORTH"],
    ["8020", "1061", 7_900, "T-SOUTH"],
    ["8030", "1086", 3_100, "T-PARK"],
  ]);
  b.add(
    "general",
    last,
    `Insurance for the month ${first.slice(0, 7)}`,
    [
      debit("6620", units(7_400), cc("T-NORTH")),
      debit("6620", units(3_600), cc("T-SOUTH")),
      credit("1440", units(11_000)),
    ],
    "accountant",
    { delay: 0 },
  );
  if (month === 3)
    b.add(
      "general",
      day(15),
      "Dividend declared to the parent",
      [debit("3210", units(1_300_000)), credit("3220", units(1_300_000))],
      "controller",
    );
  if (month === 4)
    b.add(
      "bank",
      day(20),
      "Dividend paid",
      [debit("3220", units(1_300_000)), credit("1110", units(1_300_000))],
      "treasury",
    );
  const interest = units(11_400 - 90 * ((Number(first.slice(0, 4)) - 2024) * 12 + month));
  b.add(
    "bank",
    day(28),
    "Terminal loan, instalment and interest",
    [
      debit("2610", units(24_000)),
      debit("8520", interest),
      credit("1110", units(24_000) + interest),
    ],
    "treasury",
  );
  b.monthEnd(first, b.around(21_000 * pax), [
    { account: "6330", amount: b.around(4_500), coding: cc("T-NORTH"), text: "Maintenance" },
    { account: "7420", amount: b.around(2_600), coding: cc("A-FIN"), text: "Advice" },
  ]);
}
