import { sql } from "drizzle-orm";
import { customersMoney } from "@/core/banks/simulated";
import {
  lineOn,
  NO_KEYS,
  NO_PARTY,
  type BankStatement,
  type SomeLine,
} from "@/core/banks/statements";
import { writeCamt053 } from "@/core/banks/statements/writeCamt053";
import { writeMt940 } from "@/core/banks/statements/writeMt940";
import { decimalText, minor, type CalendarDate, type Minor, type Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { importStatements, saveMovementKind, startPaperStatement } from "@/server/banks";
import { rows, type Database } from "@/server/db";
import { addLastStatement } from "./bankYear";
import { addPettyCash } from "./pettyCash";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;
type Line = SomeLine;

/** The working day itself is got from the simulated bank by whoever tries the demo. */
const DAYS = ["2026-11-03", "2026-11-04"] as const;
const BEFORE = "2026-11-02";

const KINDS = [
  {
    code: "CHARGE",
    name: "Bank charges",
    group: "Costs of banks",
    side: "out",
    codes: ["PMNT-MDOP-CHRG", "ACMT-MDOP-CHRG", "NCHG"],
    words: ["charges", "account fee"],
    account: "7450",
    dimensions: { costCentre: "A-FIN" },
  },
  {
    code: "CARDS",
    name: "Card settlement",
    group: "Card settlements",
    side: "in",
    codes: ["PMNT-MCRD-POSP"],
    words: ["card settlement"],
    account: "",
    dimensions: {},
  },
];

/** Two days of statements for the ferries' current account, as the bank hands them out. */
export async function addStatements(
  database: Database,
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  const controller = await as("controller", BEFORE);
  for (const k of KINDS) must(await saveMovementKind(controller, k), k.code);
  await addPettyCash(as, must);
  await addLastStatement(database, as, must, BEFORE);
  const [bank] = await rows<{ id: number; companyId: number; iban: string }>(
    database.db,
    sql`select id, company_id as "companyId", iban from bank_account where code = 'HSF-MAIN'`,
  );
  const sent = await outgoing(database, bank!.id);
  const lines = [...sent, ...(await incoming(database, bank!.companyId)), ...OTHERS];
  let opening: bigint = await heldOn(database, "1110", BEFORE);
  const all = await ownIbans(database);
  const moved = toOthers(all);
  const statements = DAYS.map((day, i): BankStatement => {
    const own = [
      ...lines.filter((_, n) => n % DAYS.length === i),
      ...(day === DAYS[1] ? comeBack(sent) : moved),
    ];
    const from = i === 0 ? BEFORE : DAYS[i - 1]!;
    const statement = statementOf(
      { account: bank!.iban, currency: "EUR", number: String(211 + i), from, day },
      opening,
      own,
    );
    opening = statement.closing.amount;
    return statement;
  });
  const file = writeCamt053("HSF20261104", "2026-11-05T05:10:00Z", statements);
  must(
    await importStatements(await as("treasury", "2026-11-05", 7), {
      name: "ostry-2026-11-04.xml",
      content: Buffer.from(file).toString("base64"),
    }),
    "statements",
  );
  for (const { name, content } of otherFiles(all))
    must(
      await importStatements(await as("treasury", "2026-11-05", 7), {
        name,
        content: Buffer.from(content).toString("base64"),
      }),
      name,
    );
  must(
    await startPaperStatement(await as("treasury", "2026-11-05", 8), {
      company: "HSF",
      bank: "HSF-SAVE",
      number: "3",
      openingDate: "2026-06-30",
      opening: text(await heldOn(database, "1112", "2026-06-30")),
      closingDate: "2026-10-31",
      // What the ledger has, less a charge that only the bank knows.
      closing: text(minor((await heldOn(database, "1112", "2026-10-31")) - 1_200n)),
    }),
    "statement of paper",
  );
}

/** A statement of these lines, which adds up. */
function statementOf(
  of: {
    account: string;
    currency: string;
    number: string;
    from: CalendarDate;
    day: CalendarDate;
  },
  opening: bigint,
  lines: readonly Line[],
): BankStatement {
  const { account, currency, number, from, day } = of;
  return {
    account,
    currency,
    number,
    message: "HSF20261104",
    opening: { amount: minor(opening), date: from },
    closing: { amount: minor(lines.reduce((t, l) => t + l.amount, opening)), date: day },
    lines: lines.map((l, n) => ({
      ...lineOn(day, l),
      keys: { ...NO_KEYS, ...l.keys, bank: `OS${day.slice(5).replace("-", "")}${100 + n}` },
    })),
    from: 0,
  };
}

/** The accounts of our own as banks write them, by their codes. */
async function ownIbans(database: Database): Promise<Map<string, string>> {
  const found = await rows<{ code: string; account: string }>(
    database.db,
    sql`select code, coalesce(nullif(iban, ''), number) as account from bank_account`,
  );
  return new Map(found.map((f) => [f.code, f.account]));
}

const ours = (all: ReadonlyMap<string, string>, code: string) => ({
  ...NO_PARTY,
  name: "Hollin Sound Ferries",
  account: all.get(code)!,
});

/** What went to the second account, and what was exchanged into dollars. */
const toOthers = (all: ReadonlyMap<string, string>): Line[] => [
  { amount: minor(-6_000_000n), party: ours(all, "HSF-MUT"), text: "To second account" },
  { amount: minor(-11_000_000n), party: ours(all, "HSF-USD"), text: "Bought 119,900.00 USD" },
];

/**
 * Files of the other banks: of the second account one statement is missing between two, and the
 * dollars come from what was exchanged.
 */
function otherFiles(all: ReadonlyMap<string, string>): { name: string; content: string }[] {
  const second = { account: all.get("HSF-MUT")!, currency: "EUR" };
  const [before, day, next] = [BEFORE, ...DAYS];
  const from = ours(all, "HSF-MAIN");
  return [
    {
      name: "sound-mutual-2026-11-04.xml",
      content: writeCamt053("SM20261104", "2026-11-05T05:30:00Z", [
        statementOf({ ...second, number: "1", from: before, day }, 0n, [
          { amount: minor(6_000_000n), party: from, text: "From current account" },
        ]),
        statementOf({ ...second, number: "3", from: day, day: next }, 5_569_000n, [
          { amount: minor(-650n), code: "PMNT-MDOP-CHRG", text: "Account fee November" },
          { amount: minor(31_240n), party: { ...NO_PARTY, name: "J. Ashdown" }, text: "mooring" },
        ]),
      ]),
    },
    {
      name: "kestle-2026-11-03.sta",
      content: writeMt940("KS20261103", [
        statementOf(
          { account: all.get("HSF-USD")!, currency: "USD", number: "1", from: before, day },
          0n,
          [
            { amount: minor(11_990_000n), party: from, text: "Bought with 110,000.00 EUR" },
            { amount: minor(-1_500n), code: "PMNT-MDOP-CHRG", text: "Charges for opening" },
          ],
        ),
      ]),
    },
  ];
}

const text = (amount: Minor): string => decimalText(amount, "EUR");

/** What the ferries had on an account on a day, in euros. */
async function heldOn(database: Database, account: string, day: CalendarDate): Promise<Minor> {
  const [held] = await rows<{ amount: bigint }>(
    database.db,
    sql`select sum(case n.side when 'D' then n.foreign_amount else -n.foreign_amount end)::bigint
        as amount
      from journal_line n join journal j on j.id = n.journal_id
        join account a on a.id = n.account_id join company c on c.id = j.company_id
      where c.code = 'HSF' and a.number = ${account} and n.currency = 'EUR' and j.date <= ${day}`,
  );
  return minor(held!.amount);
}

/** Payments of ours that the bank has executed, but for the last two, which are still under way. */
async function outgoing(database: Database, bank: number): Promise<Line[]> {
  const sent = await rows<{ number: string; amount: bigint; payee: string; cheque: bigint | null }>(
    database.db,
    sql`select d.number, d.amount, p.payee, (select max(c.number) from cheque c
        where c.payment_id = d.id and c.state <> 'voided') as cheque
      from payment p join document d on d.id = p.document_id
      where p.bank_account_id = ${bank} and d.currency = 'EUR' and p.method <> 'refund'
        and d.status in ('posted', 'sent') and d.date <= ${DAYS[1]} order by d.id`,
  );
  return sent.slice(0, -2).map((p) =>
    p.cheque === null
      ? {
          amount: minor(-p.amount),
          party: { ...NO_PARTY, name: p.payee },
          keys: { ...NO_KEYS, endToEnd: p.number },
        }
      : {
          amount: minor(-p.amount),
          code: "PMNT-ICHQ-CCHQ",
          keys: { ...NO_KEYS, cheque: String(p.cheque) },
          text: "Cheque presented",
        },
  );
}

/** Customers' money, with references as customers write them. */
async function incoming(database: Database, company: number): Promise<Line[]> {
  const open = await rows<{ reference: string; left: bigint; name: string }>(
    database.db,
    sql`select i.reference, i.left_amount as "left", p.name from open_item i
      join partner p on p.code = i.partner
      where i.company_id = ${company} and i.area = 'receivables' and i.currency = 'EUR'
        and i.left_amount > 0 and i.date <= ${BEFORE} order by i.due_date, i.id limit 110`,
  );
  // The last four pay by cheque.
  return open
    .slice(0, -4)
    .map(({ reference, left, name }, i): Line =>
      customersMoney({ reference, left: minor(left), name }, i),
    );
}

const cardPart = (amount: Minor, text: string) => ({
  amount,
  party: { ...NO_PARTY, name: "Sound Card Services" },
  keys: NO_KEYS,
  text,
  returnReason: "",
});

/** Travellers who pay for their cabins before they come; nobody has invoiced them. */
const CABINS: readonly [name: string, cabin: number, amount: bigint][] = [
  ["M. Garrow", 12, 84_000n],
  ["T. Ellison", 3, 42_000n],
  ["Brannagh family", 21, 126_000n],
  ["K. Oswin", 7, 42_000n],
  ["P. and L. Derry", 14, 84_000n],
  ["H. Marsh", 9, 42_000n],
  ["Ostry Choir", 30, 210_000n],
  ["F. Linnet", 5, 42_000n],
  ["R. Quill", 18, 84_000n],
  ["S. Ember", 11, 42_000n],
  ["Tallow and Finch", 22, 126_000n],
  ["D. Wren", 2, 42_000n],
  ["A. Corbel", 16, 84_000n],
  ["J. Hask", 8, 42_000n],
  ["N. Perrin", 19, 84_000n],
  ["Kestle Rowers", 31, 210_000n],
  ["V. Amble", 4, 42_000n],
  ["G. Thorne", 13, 84_000n],
  ["I. Sallow", 6, 42_000n],
  ["C. and M. Rook", 15, 84_000n],
  ["E. Fallow", 10, 42_000n],
  ["W. Stane", 17, 84_000n],
];

/** What is taken on board and in the harbours, and what is debited by standing mandates. */
const DAILY: readonly [name: string, text: string, amount: bigint][] = [
  ["", "till MV Lantern 2 Nov", 214_560n],
  ["", "till MV Curlew 2 Nov", 98_230n],
  ["", "till MV Lantern 3 Nov", 187_915n],
  ["", "till MV Curlew 3 Nov", 76_440n],
  ["", "parking meters Ostry", 31_280n],
  ["", "parking meters Kestle", 18_755n],
  ["", "vending machines", 9_410n],
  ["Sound Telecom", "bill 11/26 lines and data", -68_190n],
  ["Ostry Water", "instalment November", -24_500n],
  ["Skerry Power", "terminal 1, meter 4471", -187_340n],
  ["Skerry Power", "terminal 2, meter 4472", -96_015n],
  ["Harbour Authority", "light dues October", -134_200n],
  ["Toll Bridge Company", "lorries October", -15_680n],
  ["Office Lease Ostry", "copiers, contract 88-204", -21_900n],
  ["Brine and Son", "refund ticket 770213", -5_600n],
  ["U. Lathe", "refund ticket 770398", -2_800n],
  ["Z. Kerr", "refund ticket 771002", -8_400n],
  ["Brightwater Insurance", "premium vessels, quarter", -1_865_000n],
  ["Municipal Museum", "combined tickets October", 47_250n],
  ["Lagoon Hotel", "commission October", 38_900n],
];

const OTHERS: readonly Line[] = [
  { amount: minor(-1_850n), code: "PMNT-MDOP-CHRG", text: "Account fee October" },
  { amount: minor(-4_275n), code: "PMNT-MDOP-CHRG", text: "Charges for payments abroad" },
  {
    amount: minor(3_159_556n),
    code: "PMNT-MCRD-POSP",
    party: { ...NO_PARTY, name: "Sound Card Services" },
    text: "CARD SETTLEMENT 0311",
    // The bank says what is in it: it comes in as two lines.
    details: [
      cardPart(minor(3_188_250n), "CARDS 0311 GROSS"),
      cardPart(minor(-28_694n), "CARDS 0311 CHARGES"),
    ],
  },
  { amount: minor(-40_000n), code: "PMNT-CCRD-CWDL", text: "Cash withdrawal, harbour office" },
  {
    amount: minor(1_204_318n),
    code: "PMNT-MCRD-POSP",
    party: { ...NO_PARTY, name: "Sound Card Services" },
    text: "CARD SETTLEMENT 0411",
    details: [
      cardPart(minor(1_215_260n), "CARDS 0411 GROSS"),
      cardPart(minor(-10_942n), "CARDS 0411 CHARGES"),
    ],
  },
  ...DAILY.map(([name, words, amount]): Line => ({
    amount: minor(amount),
    party: { ...NO_PARTY, name },
    text: words,
  })),
  ...CABINS.map(([name, cabin, amount]): Line => ({
    amount: minor(amount),
    party: { ...NO_PARTY, name },
    text: `deposit cabin ${cabin}`,
  })),
];

/** The first transfer of ours comes back, for the account that it went to is closed. */
const comeBack = (sent: readonly Line[]): Line[] =>
  sent
    .filter((l) => l.keys?.endToEnd)
    .slice(0, 1)
    .map((l) => ({
      amount: minor(-l.amount),
      code: "PMNT-ICDT-RRTN",
      returnReason: "AC04",
      party: l.party ?? NO_PARTY,
      keys: l.keys ?? NO_KEYS,
      text: "Returned: account closed",
    }));
