import { orderInput, type OrderInput } from "@/core/purchasing";
import { addDays, type CalendarDate } from "@/core/shared";
import type { PartnerInput } from "@/core/partners";
import { iban } from "./partners";
import { randomFrom } from "./random";

type Supplier = Partial<PartnerInput> & {
  code: string;
  name: string;
  country: string;
  iban?: string;
};
const NAMES = [
  "Skerry Chandlers",
  "Tidewrack Tools",
  "Marrow & Finch Paper",
  "Kelpline Signage",
  "Oyster Bay Workwear",
  "Fulmar Electrical",
  "Lantern Glass",
  "Gannet Hydraulics",
  "Brine Street Plumbing",
  "Cordelia Uniforms",
  "Harrowgate Filters",
  "Sandpiper Coffee",
  "Tern Lane Linen",
  "Wrackline Waste",
  "Pierhead Catering Supplies",
  "Northlight Lamps",
  "Copperknot Valves",
  "Sound Medical Stores",
  "Dunlin Print",
  "Merganser Pumps",
  "Tide & Timber",
  "Quillfish Stationery",
  "Stormglass Instruments",
  "Skerry Chandler",
];
/**
 * Those that the orders of the last year went to; the last is a second entry of the first, to be
 * found.
 */
export const orderSuppliers: readonly Supplier[] = NAMES.map((name, i) => ({
  code: `S-${120 + i}`,
  name,
  supplier: true,
  country: "IE",
  street: `${4 + i * 3} Slip Lane`,
  postcode: `${1500 + i * 23}`,
  city: ["Ostry", "Sandwick", "Innish"][i % 3]!,
  email: i % 5 === 4 ? "" : `accounts@${name.toLowerCase().replace(/[^a-z]+/g, "-")}.example`,
  terms: ["30", "14", "2-10-30"][i % 3]!,
  method: i % 6 === 2 ? "cheque" : "transfer",
  taxCode: "S23",
  taxNumber: i === 23 ? "" : `IE${String(9100000 + i * 1117)}W`,
  ...(i % 6 === 2 ? {} : { iban: iban("IE", "ZZZZ999999", 20_000_000 + i * 211, 8) }),
  ...(i === 8 ? { hold: "Disputed: pump delivered twice" } : {}),
}));

export const demoItems = [
  {
    code: "ROPE-32",
    name: "Mooring rope 32 mm",
    group: "deck",
    unit: "m",
    account: "6310",
    dimensions: { costCentre: "HARB" },
    taxCode: "S23",
    price: "7.45",
  },
  {
    code: "GLOVES",
    name: "Work gloves",
    group: "clothing",
    unit: "pair",
    account: "5250",
    dimensions: { costCentre: "C-DECK" },
    taxCode: "S23",
    price: "6.20",
  },
  {
    code: "FILTER",
    name: "Fuel filter",
    group: "engine",
    unit: "piece",
    account: "6430",
    dimensions: { costCentre: "V-LAN" },
    taxCode: "S23",
    price: "48.90",
  },
  {
    code: "PAPER",
    name: "Copy paper, box",
    group: "office",
    unit: "box",
    account: "7240",
    dimensions: { costCentre: "A-OFF" },
    taxCode: "S23",
    price: "23.75",
  },
  {
    code: "LINEN",
    name: "Cabin linen set",
    group: "hotel",
    unit: "set",
    account: "5630",
    dimensions: { costCentre: "C-HOTEL" },
    taxCode: "S23",
    price: "31.40",
  },
  {
    code: "LAMP",
    name: "Deck lamp",
    group: "deck",
    unit: "piece",
    account: "6430",
    dimensions: { costCentre: "V-CUR" },
    taxCode: "S23",
    price: "112.00",
  },
  {
    code: "VALVE",
    name: "Ball valve",
    group: "engine",
    unit: "piece",
    account: "6430",
    dimensions: { costCentre: "V-TER" },
    taxCode: "S23",
    price: "64.30",
  },
  {
    code: "SIGN",
    name: "Terminal sign",
    group: "terminal",
    unit: "piece",
    account: "6260",
    dimensions: { costCentre: "T-NORTH" },
    taxCode: "S23",
    price: "185.00",
  },
  {
    code: "PUMP",
    name: "Bilge pump",
    kind: "asset",
    group: "engine",
    unit: "piece",
    account: "6430",
    dimensions: { costCentre: "V-LAN" },
    taxCode: "S23",
    price: "940.00",
  },
  {
    code: "SURVEY",
    name: "Safety survey, day",
    kind: "service",
    group: "service",
    unit: "day",
    account: "7420",
    dimensions: { costCentre: "A-FIN" },
    taxCode: "S23",
    price: "780.00",
  },
] as const;

export interface PlannedPurchase {
  on: CalendarDate;
  order: OrderInput;
  /** Thousandths are written as whole units here; what comes, when, and what is billed of it. */
  received: { on: CalendarDate; quantity: number }[];
  billed: { on: CalendarDate; quantity: number; price: string; number: string }[];
  close: boolean;
}

/** Purchases of a month: most are as they should be; some leave something over, of every kind. */
export function purchasesOf(month: string, index: number): PlannedPurchase[] {
  const random = randomFrom(400 + index);
  return Array.from({ length: 5 }, (_, n): PlannedPurchase => {
    const supplier = orderSuppliers[(index * 5 + n) % (orderSuppliers.length - 1)]!;
    const item = demoItems[(index * 3 + n * 2) % (demoItems.length - 1)]!;
    const quantity = random.between(6, 40);
    const on = `${month}-${String(2 + n * 3).padStart(2, "0")}`;
    const came = addDays(on, 4);
    const bill = addDays(on, 8);
    const number = `${supplier.name
      .split(" ")
      .map((w) => w[0])
      .join("")}-${month.replace("-", "")}${n + 1}`;
    const dear = (Math.round(Number(item.price) * 101.5) / 100).toFixed(2);
    const order = orderInput({
      company: "HSF",
      supplier: supplier.code,
      date: on,
      wanted: came,
      description: `${item.name} for ${Object.values(item.dimensions)[0]}`,
      lines: [{ item: item.code, quantity: String(quantity) }],
    });
    const all = { on: came, quantity };
    switch (n) {
      // One short of what came: a leftover. Never billed, a small one. Dearer than ordered, within
      // the tolerance. In two parts.
      case 0:
        return {
          on,
          order,
          received: [all],
          billed: [{ on: bill, quantity: quantity - 1, price: item.price, number }],
          close: index % 2 === 0,
        };
      case 1:
        return index % 2 === 0
          ? {
              on,
              order: { ...order, lines: order.lines.map((l) => ({ ...l, quantity: "2" })) },
              received: [{ on: came, quantity: 2 }],
              billed: [],
              close: true,
            }
          : {
              on,
              order,
              received: [all],
              billed: [{ on: bill, quantity: quantity - 2, price: item.price, number }],
              close: false,
            };
      case 2:
        return {
          on,
          order,
          received: [all],
          billed: [{ on: bill, quantity, price: dear, number }],
          close: true,
        };
      case 3:
        return {
          on,
          order,
          received: [
            { on: came, quantity: 3 },
            { on: addDays(came, 3), quantity: quantity - 3 },
          ],
          billed: [
            {
              on: addDays(bill, 2),
              quantity: index % 2 === 0 ? quantity - 1 : quantity,
              price: item.price,
              number,
            },
          ],
          close: false,
        };
      default:
        return {
          on,
          order,
          received: [{ on: came, quantity: Math.ceil(quantity / 2) }],
          billed: [{ on: bill, quantity: Math.ceil(quantity / 2), price: item.price, number }],
          close: index < 10,
        };
    }
  });
}

export const demoShares = [
  {
    code: "PREMIUM",
    name: "Hull and liability premium",
    way: "per cent",
    targets: [
      ["V-LAN", "55"],
      ["V-CUR", "30"],
      ["V-TER", "15"],
    ].map(([costCentre, weight]) => ({ dimensions: { costCentre }, weight })),
  },
  {
    code: "FLOOR",
    name: "By floor area",
    way: "units",
    targets: [
      ["T-NORTH", "1840"],
      ["T-SOUTH", "1210"],
      ["A-OFF", "460"],
    ].map(([costCentre, weight]) => ({ dimensions: { costCentre }, weight })),
  },
];
export const demoTolerances = [
  { pricePercent: "2", priceAmount: "50.00", quantityPercent: "", receiptPercent: "0" },
  {
    itemGroup: "deck",
    pricePercent: "2",
    priceAmount: "50.00",
    quantityPercent: "5",
    receiptPercent: "5",
  },
];
export const demoRules = [
  {
    place: 10,
    name: "Small change",
    conditions: [
      { part: "amount", by: "at most", value: "10.00" },
      { part: "age", by: "at least", value: "30" },
    ],
  },
  {
    place: 20,
    name: "Closed and old",
    conditions: [
      { part: "order", by: "is", value: "closed" },
      { part: "age", by: "at least", value: "180" },
      { part: "amount", by: "at most", value: "250.00" },
    ],
  },
  {
    place: 30,
    name: "Old, to be looked at",
    conditions: [{ part: "age", by: "at least", value: "270" }],
    action: "ask",
  },
];

const line = (account: string, net: string, more: object = {}) => ({
  account,
  net,
  taxCode: "S23",
  ...more,
});
/** Invoices that come again. */
export const demoTemplates = [
  {
    name: "Hull insurance premium",
    suppliers: ["S-104"],
    rhythm: { every: 3, unit: "month", first: "2026-11-03", until: "" },
    numberPattern: "BI-{yyyy}-{q}",
    invoice: {
      company: "HSF",
      description: "Premium {q} {yyyy}",
      lines: [line("6610", "24,300.00", { taxCode: "Z0", shares: "PREMIUM" })],
    },
  },
  {
    name: "Rent of the rope store",
    suppliers: ["S-140"],
    rhythm: { every: 1, unit: "month", first: "2026-10-01", until: "" },
    numberPattern: "TT-{yy}{mm}",
    invoice: {
      company: "HSF",
      description: "Rent, {month}",
      lines: [line("6630", "1,450.00", { dimensions: { costCentre: "HARB" } })],
    },
  },
  {
    name: "Heating, by floor area",
    suppliers: ["S-125"],
    rhythm: { every: 1, unit: "month", first: "2026-10-15", until: "" },
    numberPattern: "FE-{yyyy}-{mm}",
    journalDay: "end of its month",
    invoice: {
      company: "HSF",
      description: "Heating, {month}",
      lines: [line("6630", "2,318.40", { shares: "FLOOR" })],
    },
  },
  {
    name: "Waste collection, agreed for the year",
    suppliers: ["S-133"],
    rhythm: { every: 1, unit: "month", first: "2026-09-20", until: "2026-12-31" },
    numberPattern: "WW-{n}",
    agreed: "3,200.00",
    invoice: {
      company: "HSF",
      description: "Collection {n}",
      lines: [line("6260", "690.00", { dimensions: { costCentre: "T-SOUTH" } })],
    },
  },
];
