import { deflateSync } from "node:zlib";
import { iban } from "./partners";

/** The banks where the group has its accounts. */
export const demoBankRecords = [
  {
    name: "Bank of the Sound, Ostry",
    country: "IE",
    nationalCode: "999999",
    bic: "ZZZZIE2D",
    address: "1 Lighthouse Row\nOstry",
    contact: "Payments desk, +353 0 555 0100",
    cutOff: "15:30",
    holidays: ["2026-12-24", "2026-12-31"],
  },
  {
    name: "Sound Mutual, Ostry",
    country: "IE",
    nationalCode: "999998",
    bic: "ZZZZIE3D",
    contact: "Deposits, +353 0 555 0140",
    cutOff: "14:00",
  },
  {
    name: "Bank of the Sound, Merrow",
    country: "GB",
    nationalCode: "999999",
    bic: "ZZZZGB2L",
    contact: "Business desk, +44 0 555 0100",
    cutOff: "16:00",
  },
  {
    name: "Kestle Savings",
    country: "US",
    nationalCode: "999999992",
    bic: "ZZZZUS33",
    contact: "Wires, +1 0 555 0100",
    cutOff: "17:00",
  },
  {
    name: "Fjordside Bank, Holmvik",
    country: "NO",
    nationalCode: "9999",
    bic: "ZZZZNO22",
    contact: "Foreign desk, +47 0 555 0100",
    cutOff: "13:00",
  },
];

/** The group's own bank accounts. */
export const demoBanks = [
  {
    code: "HSF-MAIN",
    name: "Current account",
    company: "HSF",
    currency: "EUR",
    iban: iban("IE", "ZZZZ999999", 50_000_001, 8),
    bankName: "Bank of the Sound, Ostry",
    account: "1110",
    underWayAccount: "1120",
    overdraft: "250,000.00",
    lastCheque: 10_417,
    chequeSort: "999999",
    chequeAccount: "50000001",
  },
  {
    code: "HSF-SAVE",
    name: "Deposit account",
    kind: "deposit",
    company: "HSF",
    currency: "EUR",
    iban: iban("IE", "ZZZZ999998", 50_100_001, 8),
    bankName: "Sound Mutual, Ostry",
    account: "1112",
    underWayAccount: "1120",
    overdraft: "0",
    refuse: true,
  },
  {
    code: "HSF-MUT",
    name: "Second current account",
    company: "HSF",
    currency: "EUR",
    iban: iban("IE", "ZZZZ999998", 50_200_001, 8),
    bankName: "Sound Mutual, Ostry",
    account: "1111",
    underWayAccount: "1120",
    overdraft: "0",
  },
  {
    code: "HSF-USD",
    name: "Dollar account",
    company: "HSF",
    currency: "USD",
    number: "70100001",
    routing: "999999992",
    country: "US",
    bankName: "Kestle Savings",
    account: "1115",
    underWayAccount: "1120",
    overdraft: "0",
    refuse: true,
  },
  {
    code: "HSF-NOK",
    name: "Krone account",
    company: "HSF",
    currency: "NOK",
    iban: iban("NO", "9999", 500_001, 7),
    bankName: "Fjordside Bank, Holmvik",
    account: "1116",
    underWayAccount: "1120",
    overdraft: "0",
    refuse: true,
  },
  {
    code: "HSF-CASH",
    name: "Harbour office",
    kind: "cash",
    company: "HSF",
    currency: "EUR",
    bankName: "",
    account: "1105",
    underWayAccount: "1120",
    overdraft: "0",
    refuse: true,
  },
  {
    code: "MBY-MAIN",
    name: "Yard account",
    company: "MBY",
    currency: "GBP",
    iban: iban("GB", "ZZZZ999999", 60_000_001, 8),
    bankName: "Bank of the Sound, Merrow",
    account: "1110",
    underWayAccount: "1120",
    overdraft: "100,000.00",
    lastCheque: 2_088,
    chequeSort: "999998",
    chequeAccount: "60000001",
  },
  {
    code: "MBY-OST",
    name: "Euro account",
    company: "MBY",
    currency: "EUR",
    iban: iban("IE", "ZZZZ999999", 50_300_001, 8),
    bankName: "Bank of the Sound, Ostry",
    account: "1115",
    underWayAccount: "1120",
    overdraft: "0",
  },
  {
    code: "KIT-MAIN",
    name: "Terminal account",
    company: "KIT",
    currency: "USD",
    number: "70000001",
    routing: "999999992",
    country: "US",
    bankName: "Kestle Savings",
    account: "1110",
    underWayAccount: "1120",
    overdraft: "0",
    refuse: true,
    lastCheque: 731,
    chequeSort: "999997",
    chequeAccount: "70000001",
  },
];

/** A made-up signature as a picture: a curve that nobody writes, 280 × 80, dark on clear ground. */
export function demoSignature(): string {
  const [width, height] = [280, 80];
  const rows = Array.from({ length: height }, () => new Uint8Array(1 + width * 2));
  for (let t = 0; t < 4000; t++) {
    const u = t / 4000;
    const x = 14 + u * 246 + 12 * Math.sin(u * 34);
    const y = 42 + 24 * Math.sin(u * 21) * (1 - 0.6 * u) + 6 * Math.cos(u * 47);
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const row = rows[Math.round(y) + dy];
        if (row) row[2 + (Math.round(x) + dx) * 2] = 230;
      }
  }
  const table = Array.from({ length: 256 }, (_, n) => {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    return c >>> 0;
  });
  const crc = (bytes: Buffer): number =>
    (bytes.reduce((c, b) => table[(c ^ b) & 255]! ^ (c >>> 8), 0xffffffff) ^ 0xffffffff) >>> 0;
  const chunk = (name: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(name), data]);
    const [length, check] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    check.writeUInt32BE(crc(body));
    return Buffer.concat([length, body, check]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  // Eight bits of grey with transparency.
  header.set([8, 4, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk("IHDR", header),
    chunk("IDAT", deflateSync(Buffer.concat(rows))),
    chunk("IEND", Buffer.alloc(0)),
  ]).toString("base64");
}
