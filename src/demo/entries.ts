import { journalInput, type JournalInput, type JournalLineInput } from "@/core/ledger";
import { SEASON } from "./structure";

const line = (
  account: string,
  costCentre: string,
  description: string,
  debit: string,
  credit: string,
  more: Partial<JournalLineInput> = {},
): Partial<JournalLineInput> => ({
  account,
  dimensions: costCentre ? { costCentre } : {},
  description,
  debit,
  credit,
  ...more,
});

/** Passengers of each month by route: quantities without a counter entry. */
const passengers = (month: number): JournalInput =>
  journalInput({
    company: "HSF",
    type: "general",
    date: `2026-${String(month).padStart(2, "0")}-28`,
    description: `Passengers carried, ${["January", "February", "March", "April", "May", "June", "July", "August", "September", "October"][month - 1]}`,
    reference: "TICKETS",
    lines: [
      ["R-OST", 41_200],
      ["R-KES", 28_700],
      ["R-INN", 17_900],
    ].map(([route, size]) =>
      line("9010", String(route), "", "", "", {
        quantity: String(Math.round(Number(size) * SEASON[month - 1]!)),
      }),
    ),
  });

/**
 * What was entered in the weeks before the working date: between companies, in foreign currency,
 * reversing, in units.
 */
export const entries: readonly {
  by: "accountant" | "controller";
  on: string;
  content: JournalInput;
}[] = [
  ...[9, 10].map((month) => ({
    by: "controller" as const,
    on: `2026-${month === 9 ? "10-05" : "11-03"}`,
    content: passengers(month),
  })),
  {
    by: "accountant",
    on: "2026-10-30",
    content: journalInput({
      company: "HSF",
      type: "general",
      date: "2026-10-30",
      description: "Berth at Kestle, autumn, shared with the terminals",
      reference: "BERTH-10",
      lines: [
        line("6210", "R-KES", "Ferries' part", "12,400.00", ""),
        line("6210", "T-NORTH", "Terminals' part", "8,600.00", "", { company: "KIT" }),
        line("2410", "", "", "", "21,000.00"),
      ],
    }),
  },
  {
    by: "accountant",
    on: "2026-10-30",
    content: journalInput({
      company: "HSF",
      type: "general",
      date: "2026-10-29",
      description: "Winch repair by the boatyard, materials advanced",
      reference: "SLIP-88",
      lines: [
        line("5620", "Y-ENG", "Winch drum and cable", "6,150.00", "", { company: "MBY" }),
        line("2410", "", "", "", "6,150.00"),
      ],
    }),
  },
  {
    by: "accountant",
    on: "2026-11-02",
    content: journalInput({
      company: "HSF",
      type: "general",
      date: "2026-10-28",
      description: "Slip fees at the northern yard, MV Lantern",
      reference: "ISK-114",
      currency: "ISK",
      lines: [
        line("6420", "V-LAN", "Two days on the slip", "1,840,000", ""),
        line("2410", "", "", "", "1,840,000"),
      ],
    }),
  },
  {
    by: "accountant",
    on: "2026-11-02",
    content: journalInput({
      company: "HSF",
      type: "accrual",
      date: "2026-10-31",
      description: "Shore power, October, not yet billed",
      reference: "OCT-POWER",
      reverseOn: "2026-11-01",
      lines: [line("6630", "R-OST", "", "18,250.00", ""), line("2410", "", "", "", "18,250.00")],
    }),
  },
];

/** What lies with the controller for approval on the working date. */
export const forApproval: JournalInput = journalInput({
  company: "HSF",
  type: "general",
  date: "31 Oct 2026",
  description: "Provision for the winter docking of MV Tern",
  reference: "PROV-TER",
  lines: [
    line("6420", "V-TER", "Estimate of the yard, first half", "86,500.00", ""),
    line("2410", "", "", "", "86,500.00"),
  ],
});

/**
 * Papers of the harbour works that are being entered against the total of their slip; one is still
 * missing.
 */
export const harbourPapers: readonly JournalInput[] = [
  ["Fenders, north quay", "6310", "HW-311", "1,240.00"],
  ["Bollards, painted", "6310", "HW-312", "865.50"],
  ["Survey of the basin", "6320", "HW-313", "2,310.00"],
].map(([description, account, reference, amount]) =>
  journalInput({
    company: "HSF",
    type: "general",
    date: "30 Oct 2026",
    description,
    reference,
    lines: [line(account!, "HARB", "", amount!, ""), line("2410", "", "", "", amount!)],
  }),
);

export const shortcuts: readonly {
  name: string;
  account: string;
  costCentre: string;
  description: string;
  shared: boolean;
}[] = [
  {
    name: "fuel-lantern",
    account: "5010",
    costCentre: "V-LAN",
    description: "Gas oil, MV Lantern",
    shared: true,
  },
  {
    name: "fuel-curlew",
    account: "5010",
    costCentre: "V-CUR",
    description: "Gas oil, MV Curlew",
    shared: true,
  },
  { name: "quay", account: "6310", costCentre: "HARB", description: "", shared: false },
];

/**
 * What comes again: a fixed rent, meters that are read each time, a share of the fares, and dues by
 * the passengers carried.
 */
export const recurring: readonly {
  name: string;
  first: string;
  every?: number;
  description: string;
  lines: Partial<JournalLineInput>[];
}[] = [
  {
    name: "Rent of the Ostry office",
    first: "2026-09-30",
    description: "Rent of the Ostry office, {month} {year}",
    lines: [line("7210", "A-OFF", "", "4,850.00", ""), line("2410", "", "", "", "rest")],
  },
  {
    name: "Electricity by the meters",
    first: "2026-10-31",
    description: "Electricity by the meters, {month}",
    lines: [
      line("6630", "T-NORTH", "North terminal", "?", ""),
      line("6630", "R-OST", "Shore power", "?", ""),
      line("2410", "", "", "", "rest"),
    ],
  },
  {
    name: "Island fund, 4 % of fares",
    first: "2026-10-31",
    description: "Island fund, {month} {year}",
    lines: [
      line("7470", "A-FIN", "4 % of the month's passenger fares", "4% of 4010", ""),
      line("2410", "", "", "", "rest"),
    ],
  },
  {
    name: "Harbour dues by passengers",
    first: "2026-10-31",
    description: "Harbour dues, {month} {year}",
    lines: [
      line("2410", "", "0.42 for each passenger", "", "0.42 per 9010"),
      ...["R-OST", "R-KES", "R-INN"].map((route) => line("6210", route, "", "rest by 9010", "")),
    ],
  },
];
