import { sql } from "drizzle-orm";
import { invoiceInput, type InvoiceInput } from "@/core/payables";
import {
  addMonths,
  decimalText,
  minor,
  split,
  type CalendarDate,
  type Result,
} from "@/core/shared";
import { saveAssetClass, takeOverAssets } from "@/server/assets";
import { rows, type Database } from "@/server/db";
import type { At } from "./buying";
import { randomFrom } from "./random";

type Must = <T>(result: Result<T>, what: string) => T;

/** The register begins with what the accounts held on that day; from then on runs charge it. */
const TAKEN_OVER: CalendarDate = "2026-09-30";

const rule = (more: object) => ({
  method: "straight line",
  convention: "full month",
  life: "5 years",
  residual: "0",
  rate: "",
  switches: false,
  percents: "",
  units: "",
  ...more,
});
const NONE = rule({ method: "none", life: "" });
const declining = (life: string, rate: string) =>
  rule({ method: "declining balance", life, rate, switches: true, convention: "half year" });

/** Code, name, accounts of cost, accumulated and expense, how it is depreciated, and in the tax book. */
const CLASSES: readonly [string, string, string, string, string, object, object?][] = [
  ["LAND", "Land", "1050", "", "", NONE],
  ["PIERS", "Quays and piers", "1055", "1056", "8020", rule({ life: "40 years" })],
  ["BUILDINGS", "Terminal buildings", "1060", "1061", "8020", rule({ life: "30 years" })],
  [
    "VESSELS",
    "Vessels",
    "1065",
    "1066",
    "8010",
    rule({ life: "25 years", residual: "5" }),
    declining("25 years", "10"),
  ],
  ["DOCKING", "Dry-docking", "1070", "1071", "8010", rule({ life: "5 years" })],
  ["CRANES", "Machinery and cranes", "1075", "1076", "8030", rule({ life: "12 years" })],
  ["VEHICLES", "Vehicles", "1080", "1081", "8030", rule({ life: "6 years", residual: "10" })],
  ["FIXTURES", "Fixtures and equipment", "1085", "1086", "8030", rule({ life: "8 years" })],
  ["SOFTWARE", "Software", "1010", "1019", "8040", rule({ life: "5 years" })],
  ["CIP", "Construction in progress", "1090", "", "", NONE],
];
const NEEDS: Readonly<Record<string, string[]>> = {
  VEHICLES: ["costCentre"],
  FIXTURES: ["costCentre", "place"],
  SOFTWARE: ["costCentre"],
};

/** What a company has of a class: names, how many of them, and who uses them where. */
interface Stock {
  class: string;
  names: readonly string[];
  count: number;
  uses: readonly (readonly [costCentre: string, place: string])[];
  /** About how many months are left to be charged. */
  left: number;
}
const numbered = (name: string, count: number) =>
  Array.from({ length: count }, (_, i) => `${name} ${i + 1}`);
const OFFICE = [
  "Desk and chair",
  "Computer",
  "Screen",
  "Printer",
  "Ticket machine",
  "Radio set",
  "Cash register",
  "Turnstile",
  "Bench",
  "Display board",
];
const STOCK: Readonly<Record<string, readonly Stock[]>> = {
  HSF: [
    {
      class: "LAND",
      names: ["Ostry harbour", "North shore", "Kestle yard"],
      count: 3,
      uses: [["HARB", "Ostry"]],
      left: 0,
    },
    {
      class: "PIERS",
      names: numbered("Quay wall, section", 16).concat(numbered("Link span", 4)),
      count: 20,
      uses: [
        ["HARB", "Ostry"],
        ["HARB", "Innish"],
      ],
      left: 340,
    },
    {
      class: "BUILDINGS",
      names: [
        "Terminal hall",
        "Ticket office",
        "Workshop",
        "Staff house",
        "Boiler house",
        "Waiting room",
      ],
      count: 18,
      uses: [
        ["T-NORTH", "Ostry"],
        ["T-SOUTH", "Innish"],
      ],
      left: 240,
    },
    {
      class: "DOCKING",
      names: ["MV Lantern, dry-docking", "MV Curlew, dry-docking 2025", "MV Tern, dry-docking"],
      count: 3,
      uses: [
        ["V-LAN", "MV Lantern"],
        ["V-CUR", "MV Curlew"],
        ["V-TER", "MV Tern"],
      ],
      left: 50,
    },
    {
      class: "VEHICLES",
      names: ["Tug master", "Van", "Fork lift", "Shuttle bus", "Pick-up"],
      count: 24,
      uses: [
        ["T-SOUTH", "Innish"],
        ["HARB", "Ostry"],
      ],
      left: 20,
    },
    {
      class: "FIXTURES",
      names: OFFICE,
      count: 110,
      uses: [
        ["A-OFF", "Ostry office"],
        ["A-FIN", "Ostry office"],
        ["T-NORTH", "Ostry"],
      ],
      left: 26,
    },
    {
      class: "SOFTWARE",
      names: [
        "Booking system",
        "Crew planning",
        "Ledger licences",
        "Map data",
        "Ticket office system",
      ],
      count: 14,
      uses: [["A-OFF", "Ostry office"]],
      left: 25,
    },
    {
      class: "CIP",
      names: ["Pier at Ostry, under construction"],
      count: 1,
      uses: [["HARB", "Ostry"]],
      left: 0,
    },
  ],
  MBY: [
    { class: "LAND", names: ["Merrow slip"], count: 1, uses: [["Y-HULL", "Merrow"]], left: 0 },
    {
      class: "BUILDINGS",
      names: ["Hull shop", "Engine shop", "Store", "Paint hall"],
      count: 8,
      uses: [["Y-HULL", "Merrow"]],
      left: 200,
    },
    {
      class: "CRANES",
      names: ["Crane", "Lathe", "Slipway winch", "Plate roller", "Welding set", "Compressor"],
      count: 60,
      uses: [
        ["Y-ENG", "Merrow"],
        ["Y-HULL", "Merrow"],
      ],
      left: 70,
    },
    {
      class: "VEHICLES",
      names: ["Van", "Boat trailer", "Fork lift"],
      count: 14,
      uses: [["Y-RIG", "Merrow"]],
      left: 8,
    },
  ],
  KIT: [
    { class: "LAND", names: ["Kestle shore"], count: 1, uses: [["T-NORTH", "Kestle"]], left: 0 },
    {
      class: "PIERS",
      names: numbered("Berth", 12).concat(numbered("Breakwater, section", 8)),
      count: 20,
      uses: [["T-NORTH", "Kestle"]],
      left: 210,
    },
    {
      class: "BUILDINGS",
      names: ["Terminal", "Car park deck", "Gate house", "Store"],
      count: 16,
      uses: [["T-SOUTH", "Kestle"]],
      left: 190,
    },
    {
      class: "FIXTURES",
      names: OFFICE.concat(["Parking gate", "Pay station"]),
      count: 70,
      uses: [["T-PARK", "Kestle car park"]],
      left: 20,
    },
  ],
};

/** The vessels, each with its parts: share of the whole cost, and months left. */
const VESSELS: readonly [code: string, name: string, costCentre: string, share: bigint][] = [
  ["LAN", "MV Lantern", "V-LAN", 49n],
  ["CUR", "MV Curlew", "V-CUR", 35n],
  ["TER", "MV Tern", "V-TER", 16n],
];
const PARTS: readonly [code: string, name: string, share: bigint, left: number][] = [
  ["HULL", "hull", 60n, 130],
  ["ENG", "engines", 28n, 84],
  ["INT", "interior", 12n, 60],
];

type Row = Record<string, string>;

/** Classes of assets, and what the companies have, as the accounts hold it. */
export async function takeOverTheAssets(database: Database, as: At, must: Must): Promise<void> {
  const clerk = await as("assets", "2026-10-01", 9);
  const controller = await as("controller", "2026-10-01", 11);
  for (const [code, name, cost, accumulated, charge, common, tax] of CLASSES)
    must(
      await saveAssetClass(controller, {
        code,
        name,
        cost,
        accumulated,
        charge,
        clearing: accumulated || code === "CIP" ? "1088" : "",
        gain: "4530",
        loss: "8070",
        threshold: code === "FIXTURES" ? "250" : "",
        needs: NEEDS[code] ?? [],
        common,
        own: tax ? { TAX: tax } : {},
      }),
      code,
    );
  for (const company of Object.keys(STOCK))
    must(
      await takeOverAssets(clerk, {
        company,
        date: TAKEN_OVER,
        rows: await tableOf(database, company),
        take: true,
      }),
      `assets of ${company}`,
    );
}

/** What the accounts of a company hold, in all books and besides in the tax book. */
async function held(database: Database, company: string): Promise<(key: string) => bigint> {
  const found = await rows<{ account: string; book: string; amount: bigint }>(
    database.db,
    sql`select a.number as account, coalesce(b.code, 'all') as book, sum(e.amount)::bigint as amount
      from asset_entry e join account a on a.id = e.account_id
        join company c on c.id = e.company_id and c.code = ${company}
        left join book b on b.id = e.book_id and e.book_id <> 0
      where e.asset_id is null and e.date <= ${TAKEN_OVER} group by 1, 2`,
  );
  const sums = new Map(found.map((f) => [`${f.account} ${f.book}`, f.amount]));
  return (key) => sums.get(key) ?? 0n;
}

async function tableOf(database: Database, company: string): Promise<Row[]> {
  const on = await held(database, company);
  const random = randomFrom(company.charCodeAt(0));
  const currency = { HSF: "EUR", MBY: "GBP", KIT: "USD" }[company]!;
  const money = (amount: bigint) => decimalText(minor(amount), currency);
  const table: Row[] = [];
  for (const stock of STOCK[company]!) {
    const [, , cost, accumulated] = CLASSES.find(([code]) => code === stock.class)!;
    const weights = Array.from({ length: stock.count }, () => BigInt(random.between(40, 160)));
    const costs = split(minor(on(`${cost} all`)), weights);
    const charged = split(minor(accumulated ? -on(`${accumulated} all`) : 0n), weights);
    for (const [i, amount] of costs.entries()) {
      const [costCentre, place] = stock.uses[i % stock.uses.length]!;
      const age = ageOf(amount, charged[i]!, stock.left, random.between(85, 115));
      table.push({
        description: named(stock, i),
        class: stock.class,
        ...age,
        cost: money(amount),
        accumulated: accumulated ? money(charged[i]!) : "",
        costcentre: costCentre,
        place,
        serial: stock.class === "FIXTURES" ? `SN-${random.between(10_000, 99_999)}` : "",
      });
    }
  }
  if (company === "HSF") table.push(...vesselsOf(on, money));
  return table;
}

function named({ names, count }: Stock, i: number): string {
  const name = names[i % names.length]!;
  return count > names.length ? `${name}, no. ${Math.floor(i / names.length) + 1}` : name;
}

/** A life and a first day that fit what is charged already and what is left to be charged. */
function ageOf(cost: bigint, charged: bigint, left: number, percent: number): Row {
  if (left === 0) return { inservice: "2019-01-01" };
  const months = Math.max(6, Math.round((left * percent) / 100));
  const open = Number(cost - charged);
  const used = Math.max(1, Math.round((months * Number(charged)) / Math.max(1, open)));
  return {
    inservice: addMonths("2026-10-01", -used),
    life: `${used + months} months`,
  };
}

function vesselsOf(on: (key: string) => bigint, money: (amount: bigint) => string): Row[] {
  const parts = VESSELS.flatMap(([code, name, costCentre, share]) =>
    PARTS.map(([part, text, of, left]) => ({
      number: `${code}-${part}`,
      description: `${name}, ${text}`,
      main: part === "HULL" ? "" : `${code}-HULL`,
      costCentre,
      place: name,
      weight: share * of,
      left,
    })),
  );
  const weights = parts.map((p) => p.weight);
  const costs = split(minor(on("1065 all")), weights);
  const charged = split(minor(-on("1066 all")), weights);
  const tax = split(minor(-on("1066 TAX")), weights);
  return parts.map((p, i) => ({
    number: p.number,
    description: p.description,
    main: p.main,
    class: "VESSELS",
    ...ageOf(costs[i]!, charged[i]!, p.left, 100),
    cost: money(costs[i]!),
    accumulated: money(charged[i]!),
    "accumulated.tax": money(charged[i]! + tax[i]!),
    costcentre: p.costCentre,
    place: p.place,
    insurance: "Brightwater hull policy",
  }));
}

const NEW_THINGS: readonly [string, string, string][] = [
  ["Computer, finance", "1,180.00", "A-FIN"],
  ["Screen, finance", "310.00", "A-FIN"],
  ["Docking station, finance", "190.00", "A-FIN"],
  ["Computer, sales", "1,180.00", "A-SALES"],
  ["Screen, sales", "310.00", "A-SALES"],
  ["Docking station, sales", "190.00", "A-SALES"],
  ["Computer, office", "1,180.00", "A-OFF"],
  ["Screen, office", "310.00", "A-OFF"],
  ["Docking station, office", "190.00", "A-OFF"],
  ["Computer, harbour works", "1,180.00", "HARB"],
  ["Screen, harbour works", "310.00", "HARB"],
  ["Docking station, harbour works", "190.00", "HARB"],
];

/** Computers, screens and docking stations of one order: they wait in the intake. */
export const invoiceOfComputers = (supplier: string): InvoiceInput =>
  invoiceInput({
    company: "HSF",
    supplier,
    number: "TF-26-5510",
    date: "3 Nov 2026",
    total: "8,265.60",
    description: "Computers, screens and docking stations",
    lines: NEW_THINGS.map(([description, net, costCentre]) => ({
      account: "1088",
      dimensions: { costCentre },
      description,
      net,
      taxCode: "S23",
    })),
  });
