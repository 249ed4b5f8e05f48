import {
  incomeLayout,
  line,
  starterOutlines,
  total,
  type Outline,
  type OutlineLine,
} from "@/core/statements";

const incomeLines: OutlineLine[] = [
  line("fares", "Passenger fares", "4000", "4099"),
  line("freight", "Freight and vehicles", "4100", "4199"),
  line("terminal", "Terminal and berth income", "4200", "4299"),
  line("yard", "Repairs and refits", "4300", "4399"),
  line("other-sales", "Other sales", "4400", "4499"),
  total("revenue", "Revenue", ["fares", "freight", "terminal", "yard", "other-sales"]),
  line("fuel", "Fuel", "5000", "5199"),
  line("crew", "Crew", "5200", "5399"),
  line("labour", "Yard and terminal labour", "5400", "5599"),
  line("materials", "Materials and goods", "5600", "5699"),
  line("route-costs", "Harbour and route costs", "6200", "6299"),
  line("quay-maintenance", "Quay and pier maintenance", "6300", "6399"),
  line("vessel-maintenance", "Vessel maintenance", "6400", "6499"),
  total("gross-profit", "Gross profit", [
    "revenue",
    "fuel",
    "crew",
    "labour",
    "materials",
    "route-costs",
    "quay-maintenance",
    "vessel-maintenance",
  ]),
  line("other-income", "Other operating income", "4500", "4599"),
  line("insurance-energy", "Insurance and energy", "6600", "6699"),
  line("administration", "Administration", "7000", "7499"),
  total("ebitda", "EBITDA", ["gross-profit", "other-income", "insurance-energy", "administration"]),
  line("depreciation", "Depreciation and impairment", "8000", "8099"),
  total("operating-profit", "Operating profit", ["ebitda", "depreciation"]),
  line("finance", "Net finance cost", "8500", "8599"),
  total("profit-before-tax", "Profit before tax", ["operating-profit", "finance"]),
  line("tax", "Income tax", "8900", "8999"),
  total("result", "Result for the period", ["profit-before-tax", "tax"], "credit", "double"),
];

/** The balance sheet is the one of the chart to start from, but for its vessels. */
const starter = starterOutlines().find((o) => o.kind === "position")!;
const balanceSheet: Outline = {
  ...starter,
  lines: starter.lines.map((l) =>
    l.code === "tangible" ? { ...l, label: "Property, vessels and equipment" } : l,
  ),
};

/** The two statements of the ferry companies. */
export const ferryOutlines = (): Outline[] => [
  {
    code: "income-statement",
    version: 1,
    name: "Income statement",
    kind: "income",
    lines: incomeLines,
    layout: incomeLayout,
  },
  balanceSheet,
];
