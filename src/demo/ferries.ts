import { addDays, endOfMonth, minor, split, type CalendarDate } from "@/core/shared";
import { cc, credit, debit, share, units, type Books } from "./books";
import { sellToSmallCustomers } from "./smallCustomers";
import { CUSTOMERS, DOCKING, SEASON, SUPPLIERS } from "./structure";

/** The takings of a week, fuller towards its end. */
function byDay(amount: bigint, from: CalendarDate, account: string, centre: string) {
  const days = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
  return split(minor(amount), [11n, 10n, 10n, 12n, 18n, 21n, 18n]).map((part, i) =>
    credit(account, part, cc(centre), days[(i + new Date(from).getUTCDay() + 6) % 7]!),
  );
}

/**
 * Hollin Sound Ferries: tickets by the week, freight by the invoice, fuel, crews, dry-docks in
 * winter, a pier that grows.
 */
export function openFerries(b: Books): void {
  b.open([
    ["1010", 840_000],
    ["1019", -310_000],
    ["1050", 2_400_000],
    ["1055", 9_800_000],
    ["1056", -3_150_000],
    ["1060", 4_200_000],
    ["1061", -1_260_000],
    ["1065", 64_000_000],
    ["1066", -21_400_000],
    ["1070", 3_900_000],
    ["1071", -1_700_000],
    ["1080", 620_000],
    ["1081", -280_000],
    ["1085", 980_000],
    ["1086", -410_000],
    ["1097", 6_500_000],
    ["1100", 48_000],
    ["1110", 6_840_000],
    ["1112", 2_500_000],
    ["1210", 310_000],
    ["1230", 540_000],
    ["1310", 1_120_000],
    ["1440", 410_000],
    ["2140", -1_680_000],
    ["2250", -190_000],
    ["2260", -160_000],
    ["2420", -880_000],
    ["2610", -27_500_000],
    ["2720", -1_400_000],
    ["2740", -2_100_000],
    ["2750", -3_600_000],
    ["3010", -12_000_000],
    ["3020", -4_000_000],
    ["3110", -1_200_000],
  ]);
}

export function ferriesMonth(b: Books, first: CalendarDate): void {
  const month = Number(first.slice(5, 7)) - 1;
  const last = endOfMonth(first);
  const level = b.growth(first);
  const pax = SEASON[month]! * level;
  const dock = DOCKING[month]! * level;
  const day = (n: number) => addDays(first, n - 1);

  for (const { from, to } of b.weeks(first)) {
    const [ost, kes, inn, sound, food] = [
      b.around(158_000 * pax),
      b.around(121_000 * pax),
      b.around(84_000 * pax),
      b.around(171_000 * pax),
      b.around(39_000 * pax),
    ];
    const net = ost + kes + inn + sound + food;
    const tax = share(net, 0.09);
    const cash = share(net + tax, 0.06);
    const refunds = b.around(2_400 * pax);
    b.add(
      "sales",
      to,
      `Ticket sales ${from.slice(8)} to ${to.slice(8)}.${to.slice(5, 7)}.`,
      [
        debit("1126", net + tax - cash - refunds, {}, "Cards"),
        debit("1100", cash, {}, "Tills"),
        debit("4090", refunds, cc("R-OST"), "Refunds and discounts"),
        ...byDay(ost, from, "4010", "R-OST"),
        ...byDay(kes, from, "4010", "R-KES"),
        ...byDay(inn, from, "4010", "R-INN"),
        ...byDay(sound, from, "4020", "R-OST"),
        credit("4410", food, cc("C-HOTEL"), "On board"),
        credit("2210", tax, {}, "VAT on tickets"),
      ],
      "receivables",
    );
    const cards = net + tax - cash - refunds;
    const fee = share(cards, 0.011);
    b.add(
      "bank",
      to,
      `Cards and tills paid in, week to ${to.slice(8)}.${to.slice(5, 7)}.`,
      [
        debit("1110", cards - fee, {}, "Cards"),
        debit("6230", fee, cc("A-SALES")),
        credit("1126", cards),
        debit("1110", cash, {}, "Tills"),
        credit("1100", cash),
      ],
      "treasury",
      { delay: 2 },
    );
    const fuel = b.around(96_000 * (0.75 + 0.3 * pax));
    b.buy(
      addDays(from, 2),
      SUPPLIERS.fuel,
      "gas oil",
      [{ account: "1210", net: fuel, coding: {} }],
      21,
    );
    b.settle(from, to);
  }
  const used = b.around(388_000 * (0.75 + 0.3 * pax), 0.05);
  b.add(
    "stock",
    last,
    `Gas oil used ${first.slice(0, 7)}`,
    [
      debit("5010", share(used, 0.44), cc("V-LAN")),
      debit("5010", share(used, 0.34), cc("V-CUR")),
      debit("5010", used - share(used, 0.44) - share(used, 0.34), cc("V-TER")),
      credit("1210", used),
    ],
    "accountant",
  );

  const customers = [
    [CUSTOMERS.freight, 210_000, "R-OST", 4],
    [CUSTOMERS.council, 96_000, "R-INN", 18],
    [CUSTOMERS.post, 74_000, "R-KES", 0],
    [CUSTOMERS.fish, 68_000, "R-KES", 9],
    [CUSTOMERS.builders, 52_000, "R-OST", 35],
    [CUSTOMERS.tours, 88_000 * SEASON[month]!, "R-OST", 24],
  ] as const;
  for (const [customer, amount, route, late] of customers) {
    const half = (d: number, text: string) => {
      const lorries = b.around(amount * 0.36 * level);
      const freight = b.around(amount * 0.2 * level);
      b.sell(
        day(d),
        customer,
        text,
        [
          {
            account: customer === CUSTOMERS.tours ? "4040" : "4120",
            net: lorries,
            coding: cc(route),
          },
          {
            account: customer === CUSTOMERS.post ? "4140" : "4130",
            net: freight,
            coding: cc("R-INN"),
          },
        ],
        late + b.random.between(-3, 12),
      );
    };
    half(9, "crossings, first half");
    half(24, "crossings, second half");
  }
  b.sell(
    day(5),
    CUSTOMERS.cruise,
    "berth dues",
    [
      { account: "4210", net: b.around(118_000 * pax), coding: cc("HARB") },
      { account: "4220", net: b.around(64_000 * pax), coding: cc("T-NORTH") },
    ],
    10,
  );
  b.sell(
    day(12),
    CUSTOMERS.council,
    "terminal services",
    [
      { account: "4220", net: b.around(82_000), coding: cc("T-SOUTH") },
      { account: "4420", net: b.around(31_000), coding: cc("T-SOUTH") },
    ],
    20,
  );
  const cars = b.around(392_000 * pax);
  b.add(
    "sales",
    last,
    `Cars and vans ${first.slice(0, 7)}`,
    [
      debit("1126", cars + share(cars, 0.09)),
      credit("4110", share(cars, 0.6), cc("R-OST")),
      credit("4110", cars - share(cars, 0.6), cc("R-KES")),
      credit("2210", share(cars, 0.09)),
    ],
    "receivables",
  );
  b.add(
    "bank",
    last,
    `Card payments paid out, cars ${first.slice(0, 7)}`,
    [debit("1110", cars + share(cars, 0.09)), credit("1126", cars + share(cars, 0.09))],
    "treasury",
    { delay: 2 },
  );
  b.add(
    "general",
    last,
    `Season tickets earned ${first.slice(0, 7)}`,
    [
      debit("2420", units(62_000)),
      credit("4030", units(38_000), cc("R-INN")),
      credit("4030", units(24_000), cc("R-KES")),
    ],
    "accountant",
    { delay: 1 },
  );
  const season = b.around(64_000 * level, 0.3);
  b.add(
    "bank",
    day(16),
    "Season tickets sold",
    [debit("1110", season), credit("2420", season)],
    "treasury",
  );

  const purchases: [
    number,
    string,
    string,
    { account: string; net: number; centre: string; project?: string }[],
  ][] = [
    [
      4,
      SUPPLIERS.stevedores,
      "stevedoring",
      [
        { account: "6240", net: 61_000 * level, centre: "R-OST" },
        { account: "6240", net: 34_000 * level, centre: "R-KES" },
      ],
    ],
    [
      6,
      SUPPLIERS.cleaning,
      "cleaning",
      [
        { account: "6260", net: 19_000, centre: "V-LAN" },
        { account: "6260", net: 15_500, centre: "V-CUR" },
        { account: "6260", net: 9_800, centre: "T-NORTH" },
        { account: "6260", net: 7_400, centre: "T-SOUTH" },
      ],
    ],
    [
      8,
      SUPPLIERS.catering,
      "goods for sale on board",
      [{ account: "5630", net: 66_000 * pax, centre: "C-HOTEL" }],
    ],
    [
      10,
      SUPPLIERS.electricity,
      "electricity",
      [
        { account: "6630", net: 21_000, centre: "T-NORTH" },
        { account: "6630", net: 17_500, centre: "T-SOUTH" },
        { account: "6630", net: 11_200, centre: "HARB" },
      ],
    ],
    [
      11,
      SUPPLIERS.software,
      "subscriptions",
      [
        { account: "7220", net: 28_400, centre: "A-OFF" },
        { account: "7230", net: 9_700, centre: "A-OFF" },
      ],
    ],
    [
      13,
      SUPPLIERS.rope,
      "ropes and fenders",
      [
        { account: "6310", net: 14_500 * dock, centre: "HARB" },
        { account: "6430", net: 12_600, centre: "V-TER" },
      ],
    ],
    [
      15,
      SUPPLIERS.shipyard,
      "repairs afloat",
      [
        { account: "6410", net: 44_000 * (0.6 + 0.4 * dock), centre: "V-LAN" },
        { account: "6410", net: 36_000 * (0.6 + 0.4 * dock), centre: "V-CUR" },
        { account: "6430", net: 17_000, centre: "V-CUR" },
      ],
    ],
    [
      17,
      SUPPLIERS.engines,
      "engine spares",
      [
        { account: "6430", net: 22_500, centre: "V-LAN" },
        { account: "5020", net: 11_800, centre: "V-LAN" },
        { account: "5020", net: 9_400, centre: "V-CUR" },
      ],
    ],
    [
      18,
      SUPPLIERS.dredging,
      "dredging, inner basin",
      [{ account: "6320", net: 38_000 * (0.5 + 0.5 * dock), centre: "HARB" }],
    ],
    [
      19,
      SUPPLIERS.steel,
      "pier decking",
      [{ account: "6310", net: 41_000 * (0.5 + 0.5 * dock), centre: "HARB" }],
    ],
    [
      20,
      SUPPLIERS.print,
      "timetables and campaign",
      [
        { account: "7430", net: 36_000 * (0.6 + 0.5 * pax), centre: "A-SALES" },
        { account: "7240", net: 3_900, centre: "A-OFF" },
      ],
    ],
    [
      22,
      SUPPLIERS.catering,
      "crew victualling",
      [
        { account: "5260", net: 28_000 * (0.8 + 0.2 * pax), centre: "C-DECK" },
        { account: "5260", net: 9_000, centre: "C-ENG" },
      ],
    ],
  ];
  if (month < 3 || month > 8)
    purchases.push([
      21,
      SUPPLIERS.shipyard,
      "dry-dock fee",
      [
        {
          account: "6420",
          net: 148_000 * dock,
          centre: month % 2 ? "V-CUR" : "V-LAN",
          ...(first >= "2026-09" ? { project: "P-071" } : {}),
        },
        { account: "6440", net: 21_000, centre: month % 2 ? "V-CUR" : "V-LAN" },
      ],
    ]);
  if (first >= "2025-10-01")
    purchases.push(
      [
        23,
        SUPPLIERS.steel,
        "piles and steel, Ostry pier",
        [{ account: "1090", net: 165_000, centre: "HARB", project: "P-070" }],
      ],
      [
        26,
        SUPPLIERS.dredging,
        "works at Ostry pier",
        [{ account: "1090", net: 98_000, centre: "HARB", project: "P-070" }],
      ],
    );
  if (month % 12 === 10)
    purchases.push([
      14,
      SUPPLIERS.audit,
      "interim audit",
      [{ account: "7410", net: 46_000, centre: "A-FIN" }],
    ]);
  if (month % 3 === 1)
    purchases.push([
      25,
      SUPPLIERS.insurance,
      "hull and liability, quarter",
      [{ account: "1440", net: 405_000, centre: "A-FIN" }],
    ]);
  for (const [d, supplier, text, parts] of purchases)
    b.buy(
      day(d),
      supplier,
      text,
      parts.map((p) => ({
        account: p.account,
        net: b.around(p.net),
        coding: cc(p.centre, p.project),
      })),
    );

  const harbour = b.around(118_000 * (0.7 + 0.3 * pax), 0.05);
  b.add(
    "purchase",
    day(27),
    `Kestle Island Terminals, terminal and pilot fees ${first.slice(0, 7)}`,
    [
      debit("6210", share(harbour, 0.62), cc("R-KES")),
      debit("6210", harbour - share(harbour, 0.62), cc("R-OST")),
      credit("2150", harbour, {}, "Kestle Island Terminals", "KIT"),
    ],
    "payables",
  );
  b.add(
    "payment",
    day(18),
    "To Kestle Island Terminals, month before",
    [debit("2150", share(harbour, 0.97), {}, "", "KIT"), credit("1110", share(harbour, 0.97))],
    "payables",
  );
  if (month % 3 === 2) {
    const refit = b.around(236_000 * dock + 60_000);
    b.add(
      "purchase",
      day(24),
      "Merrow Boatyard, refit work",
      [
        debit("6450", share(refit, 0.7), cc("V-TER")),
        debit("6450", refit - share(refit, 0.7), cc("V-CUR")),
        credit("2150", refit, {}, "Merrow Boatyard", "MBY"),
      ],
      "payables",
    );
    b.add(
      "payment",
      addDays(day(24), 20),
      "To Merrow Boatyard",
      [debit("2150", share(refit, 0.9), {}, "", "MBY"), credit("1110", share(refit, 0.9))],
      "payables",
    );
  }

  const crew = (centre: string, amount: number) => ({
    account: "5210",
    amount: b.around(amount * level * (0.93 + 0.07 * pax), 0.02),
    coding: cc(centre),
  });
  const wages = [crew("C-DECK", 242_000), crew("C-ENG", 158_000), crew("C-HOTEL", 171_000)];
  const relief = [
    { account: "5240", amount: b.around(58_000 * pax, 0.1), coding: cc("C-DECK") },
    { account: "5240", amount: b.around(41_000 * pax, 0.1), coding: cc("C-HOTEL") },
  ];
  const shore = [
    { account: "5420", amount: b.around(64_000 * level, 0.02), coding: cc("T-NORTH") },
    { account: "5420", amount: b.around(52_000 * level, 0.02), coding: cc("T-SOUTH") },
  ];
  const office = [
    { account: "7010", amount: b.around(78_000 * level, 0.02), coding: cc("A-FIN") },
    { account: "7010", amount: b.around(54_000 * level, 0.02), coding: cc("A-OFF") },
    { account: "7010", amount: b.around(41_000 * level, 0.02), coding: cc("A-SALES") },
    { account: "7010", amount: b.around(29_000 * level, 0.02), coding: cc("HARB") },
  ];
  b.payroll(
    first,
    [...wages, ...relief, ...shore, ...office],
    [
      ...wages.map((w) => ({ account: "5220", coding: w.coding, of: w.amount })),
      ...shore.map((w) => ({ account: "5425", coding: w.coding, of: w.amount })),
      ...office.map((w) => ({ account: "7020", coding: w.coding, of: w.amount })),
    ],
  );

  b.depreciation(first, [
    ["8010", "1066", 168_000, "V-LAN"],
    ["8010", "1066", 121_000, "V-CUR"],
    ["8010", "1066", 54_000, "V-TER"],
    ["8010", "1071", 33_500, "V-LAN"],
    ["8020", "1056", 24_600, "HARB"],
    ["8020", "1061", 11_800, "T-NORTH"],
    ["8030", "1081", 6_200, "T-SOUTH"],
    ["8030", "1086", 9_400, "A-OFF"],
    ["8040", "1019", 9_100, "A-OFF"],
  ]);
  if (first < "2026-10-01")
    b.add(
      "asset",
      last,
      `Depreciation, tax rates above IFRS ${first.slice(0, 7)}`,
      [
        debit("8010", units(41_000), cc("V-LAN")),
        debit("8010", units(22_000), cc("V-CUR")),
        credit("1066", units(63_000)),
      ],
      "assets",
      { book: "TAX", delay: 0 },
    );
  b.add(
    "general",
    last,
    `Provision for dry-docking, local rules ${first.slice(0, 7)}`,
    [
      debit("6420", units(52_000), cc("V-LAN")),
      debit("6420", units(36_000), cc("V-CUR")),
      credit("2710", units(88_000)),
    ],
    "accountant",
    { book: "LOCAL", delay: 0 },
  );
  b.add(
    "general",
    last,
    `Insurance for the month ${first.slice(0, 7)}`,
    [
      debit("6610", units(74_000), cc("V-LAN")),
      debit("6610", units(46_000), cc("V-CUR")),
      debit("6620", units(15_000), cc("T-NORTH")),
      credit("1440", units(135_000)),
    ],
    "accountant",
    { delay: 0 },
  );
  b.add(
    "general",
    last,
    `Release of capital grants ${first.slice(0, 7)}`,
    [debit("2750", units(15_000)), credit("4520", units(15_000), cc("HARB"))],
    "accountant",
    { delay: 0 },
  );
  const interest = units(98_000 - 640 * ((Number(first.slice(0, 4)) - 2024) * 12 + month));
  b.add(
    "bank",
    day(28),
    "Vessel loans, instalment and interest",
    [
      debit("2610", units(285_000)),
      debit("8520", interest),
      credit("1110", units(285_000) + interest),
    ],
    "treasury",
  );
  b.add(
    "bank",
    last,
    "Interest on deposits",
    [debit("1112", b.around(5_400, 0.05)), credit("8510", 0n)].map((l, _i, all) =>
      l.side === "credit" ? { ...l, amount: all[0]!.amount } : l,
    ),
    "treasury",
  );
  if (month === 10 && first >= "2025-10-01")
    b.add(
      "bank",
      day(6),
      "Pier loan drawn",
      [debit("1110", units(1_500_000)), credit("2620", units(1_500_000))],
      "treasury",
    );
  if (month === 4)
    b.add(
      "general",
      day(28),
      "Dividend declared for the year before",
      [debit("3210", units(4_800_000)), credit("3220", units(4_800_000))],
      "controller",
    );
  if (month === 5)
    b.add(
      "bank",
      day(20),
      "Dividend paid",
      [debit("3220", units(4_800_000)), credit("1110", units(4_800_000))],
      "treasury",
    );
  if (first === "2025-02-01")
    b.buy(
      day(24),
      SUPPLIERS.shipyard,
      "MV Curlew, lengthening and engines",
      [
        { account: "1065", net: units(5_200_000), coding: cc("V-CUR", "P-064") },
        { account: "1070", net: units(640_000), coding: cc("V-CUR", "P-064") },
      ],
      45,
    );
  if (month === 8)
    b.add(
      "bank",
      day(11),
      "To the deposit account",
      [debit("1112", units(3_000_000)), credit("1110", units(3_000_000))],
      "treasury",
    );
  if (month === 1)
    b.add(
      "bank",
      day(9),
      "From the deposit account",
      [debit("1110", units(2_500_000)), credit("1112", units(2_500_000))],
      "treasury",
    );

  if (first >= "2025-05-01") sellToSmallCustomers(b, first);
  b.declareVat(first);
  const estimate = Math.max(0, 1_130_000 * pax - 560_000 - 90_000 * dock);
  b.monthEnd(first, units(Math.round(estimate * 0.125)), [
    { account: "6310", amount: b.around(26_000 * dock), coding: cc("HARB"), text: "Quay repairs" },
    {
      account: "6320",
      amount: b.around(18_000 * dock),
      coding: cc("HARB"),
      text: "Dredging, inner basin",
    },
    { account: "5250", amount: b.around(7_500), coding: cc("C-ENG"), text: "Certificates" },
    { account: "7420", amount: b.around(9_500), coding: cc("A-FIN"), text: "Advice" },
  ]);
}
