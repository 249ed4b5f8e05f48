import { journalInput, type JournalInput, type JournalLineInput } from "@/core/ledger";

const line = (
  account: string,
  costCentre: string,
  description: string,
  debit: string,
  credit: string,
  project = "",
): Partial<JournalLineInput> => ({
  account,
  dimensions: { costCentre, ...(project ? { project } : {}) },
  description,
  debit,
  credit,
});

/** What lies half done on the desk on the working date. */
export const openDrafts: readonly {
  by: "accountant" | "controller";
  hour: number;
  content: JournalInput;
}[] = [
  {
    by: "accountant",
    hour: 8,
    content: journalInput({
      company: "HSF",
      type: "accrual",
      date: "31 Oct 2026",
      description: "Quay repairs accrual, October",
      reference: "OCT-ACC",
      lines: [
        line("6310", "HARB", "Ostry pier fenders", "48,200.00", ""),
        line("6320", "HARB", "Dredging, inner basin", "61,750.00", ""),
        line("6420", "V-LAN", "MV Lantern, hull survey", "12,400.00", "", "P-071"),
        line("2410", "", "", "", "122,350.00"),
      ],
    }),
  },
  {
    by: "accountant",
    hour: 9,
    content: journalInput({
      company: "HSF",
      type: "general",
      date: "30 Sep 2026",
      description: "Recharge of terminal cleaning, third quarter",
      reference: "",
      lines: [
        line("6260", "T-NORTH", "July to September", "9,640.00", ""),
        line("6260", "R-OST", "July to September", "", "9,460.00"),
      ],
    }),
  },
  {
    by: "accountant",
    hour: 10,
    content: journalInput({
      company: "HSF",
      type: "correction",
      date: "3 Nov 2026",
      description: "Lubricants booked to the wrong vessel",
      reference: "PI-20955",
      lines: [
        line("5020", "V-TER", "Lubricants", "3,180.00", ""),
        line("5020", "", "Lubricants", "", "3,180.00"),
      ],
    }),
  },
  {
    by: "accountant",
    hour: 11,
    content: journalInput({
      company: "MBY",
      type: "accrual",
      date: "31 Oct 2026",
      description: "Slipway winch, work done and not billed",
      reference: "",
      lines: [
        line("5620", "Y-HULL", "Foundation", "7,900.00", "", "P-068"),
        line("2410", "", "", "", "7,900.00"),
      ],
    }),
  },
  {
    by: "controller",
    hour: 11,
    content: journalInput({
      company: "HSF",
      type: "general",
      date: "31 Oct 2026",
      description: "Bonus for the summer season",
      reference: "",
      lines: [
        line("5210", "C-DECK", "Deck", "64,000.00", ""),
        line("5210", "C-ENG", "Engine", "41,000.00", ""),
        line("5210", "C-HOTEL", "Passenger crew", "38,500.00", ""),
        line("2330", "", "", "", "143,500.00"),
      ],
    }),
  },
];
