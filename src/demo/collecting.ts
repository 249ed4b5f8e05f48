import { sql } from "drizzle-orm";
import { usualPolicy } from "@/core/receivables";
import { addDays, type CalendarDate, type Result } from "@/core/shared";
import { rows, type Database } from "@/server/db";
import { saveContacts, savePartner, savePaymentTolerance } from "@/server/partners";
import {
  closeDispute,
  makePromise,
  openDispute,
  sayOfCustomer,
  saveCustomerGroup,
} from "@/server/receivables";
import type { At } from "./buying";
import { onDay } from "./onDay";
import { demoCustomers, partnerCode } from "./partners";
import { CUSTOMERS } from "./structure";

type Must = <T>(result: Result<T>, what: string) => T;

export const demoGroups = [
  {
    code: "COUNCIL",
    name: "Councils and public bodies",
    policy: { ...usualPolicy(), lateDays: 90 },
  },
  { code: "TRADE", name: "Freight, agents and trade", policy: null },
  {
    code: "TOURS",
    name: "Tour operators and travel",
    policy: { ...usualPolicy(), limit: 15, trend: 8 },
  },
  {
    code: "BERTH",
    name: "Berth holders and clubs",
    policy: { ...usualPolicy(), amountFull: "5000" },
  },
];

const groupOf = (name: string): string => {
  if (/council|school|trust|community|parish/i.test(name)) return "COUNCIL";
  if (/tours|travel|holidays|outings|coach|cruise|events|hotels/i.test(name)) return "TOURS";
  return /club|sailing|rowing|yacht|chandlery|diving/i.test(name) ? "BERTH" : "TRADE";
};
const GRADES = ["A", "B", "B", "C", "A", "B", "D", "B", "C", "A", "E"] as const;
/** Limits of the large ones; the small ones have five thousand. */
const LIMITS: Readonly<Record<string, string>> = {
  [CUSTOMERS.freight]: "400,000.00",
  [CUSTOMERS.council]: "600,000.00",
  [CUSTOMERS.tours]: "120,000.00",
  [CUSTOMERS.cruise]: "350,000.00",
  [CUSTOMERS.fish]: "200,000.00",
  [CUSTOMERS.builders]: "90,000.00",
  [CUSTOMERS.post]: "150,000.00",
  [CUSTOMERS.yacht]: "60,000.00",
};
const CONTACTS: Readonly<Record<string, readonly [string, string]>> = {
  [CUSTOMERS.freight]: ["Ruth Amsel", "accounts payable"],
  [CUSTOMERS.council]: ["Dara Holm", "treasurer"],
  [CUSTOMERS.tours]: ["Petra Lanning", "owner"],
  [CUSTOMERS.cruise]: ["Ivo Marsh", "shared services"],
  [CUSTOMERS.fish]: ["Nils Halden", "director"],
  [CUSTOMERS.builders]: ["Joan Pike", "office"],
  [CUSTOMERS.post]: ["Accounts desk", "accounts payable"],
  [CUSTOMERS.yacht]: ["Celia Wren", "club secretary"],
};

/** Branches, and the head office that pays for each. */
const HEAD_OFFICES: Readonly<Record<string, string>> = {
  "Barrow Light Tours": CUSTOMERS.tours,
  "Bramble Coast Holidays": CUSTOMERS.tours,
  "Chandler Brothers Freight": CUSTOMERS.freight,
};
/** What a branch owes is written about to the head office that pays it. */
const statementsTo = (headOffice: string) => {
  const { name, street, postcode, city, email } = demoCustomers.find((c) => c.name === headOffice)!;
  return {
    statementName: name,
    statementStreet: street ?? "",
    statementPostcode: postcode ?? "",
    statementCity: city ?? "",
    statementEmail: email ?? "",
  };
};
/** Whose debts are insured. */
const INSURED: Readonly<Record<string, object>> = {
  [CUSTOMERS.freight]: {
    insurer: "Brightwater Insurance",
    insuredAmount: "300,000.00",
    insuredUntil: "2027-06-30",
  },
  [CUSTOMERS.tours]: {
    insurer: "Brightwater Insurance",
    insuredAmount: "80,000.00",
    insuredUntil: "2026-12-31",
  },
};
const COLD_STORE = {
  deliveryName: "Halden cold store",
  deliveryStreet: "Shed 4, North Quay",
  deliveryPostcode: "2310",
  deliveryCity: "Port Harrow",
};
/** What is let pass when they pay, by group; the others are asked about. */
const TOLERANCES = [
  { code: "TRADE", tolerance: { late: "allow", lateDays: 3, small: "1" } },
  { code: "BERTH", tolerance: { late: "leave open", lateDays: 0, small: "2.50" } },
] as const;

/** Who the customers are to those who collect: groups, grades, limits, contacts. */
export async function setUpCollecting(worksAt: At, must: Must): Promise<void> {
  const controller = await worksAt("controller", "2024-01-08", 10);
  for (const g of demoGroups) must(await saveCustomerGroup(controller, g), g.code);
  for (const t of TOLERANCES) must(await savePaymentTolerance(controller, t), t.code);
  const clerk = await worksAt("receivables", "2024-01-08", 11);
  for (const [i, { iban: _iban, ...c }] of demoCustomers.entries()) {
    must(
      await savePartner(clerk, {
        ...c,
        version: 1,
        customerGroup: groupOf(c.name),
        grade: GRADES[i % GRADES.length],
        collector: i % 5 === 4 ? "controller" : "receivables",
        standIn: i % 5 === 4 ? "receivables" : "",
        headOffice: HEAD_OFFICES[c.name] ? partnerCode(HEAD_OFFICES[c.name]!) : "",
        creditLimit: LIMITS[c.name] ?? "5,000.00",
        ...(HEAD_OFFICES[c.name] ? statementsTo(HEAD_OFFICES[c.name]!) : {}),
        ...(INSURED[c.name] ?? {}),
        ...(c.name === CUSTOMERS.fish ? COLD_STORE : {}),
      }),
      c.name,
    );
    const [name, role] = CONTACTS[c.name] ?? ["Accounts", ""];
    must(
      await saveContacts(clerk, {
        partner: c.code,
        contacts: [
          {
            name,
            role,
            telephone: `+353 1 555 ${String(100 + i).padStart(4, "0")}`,
            email: c.email ?? "",
          },
        ],
      }),
      c.name,
    );
  }
}

interface Item {
  id: number;
  partner: string;
  reference: string;
  due: CalendarDate;
  left: bigint;
}

/** Weeks of collecting before the working date: calls, promises kept and broken, disputes. */
export async function collect(
  database: Database,
  worksAt: At,
  must: Must,
  today: CalendarDate,
): Promise<void> {
  const items = await rows<Item>(
    database.db,
    sql`select i.id::int as id, i.partner, i.reference, i.due_date as due, i.left_amount as "left"
      from open_item i join company c on c.id = i.company_id
      where c.code = 'HSF' and i.area = 'receivables' and i.left_amount > 0 order by i.due_date, i.id`,
  );
  const of = (name: string) => items.filter((i) => i.partner === partnerCode(name));
  const late = (name: string) => of(name).filter((i) => i.due < today);
  const at = (daysAgo: number, hour = 10) => worksAt("receivables", addDays(today, -daysAgo), hour);
  const say = async (
    name: string,
    daysAgo: number,
    kind: string,
    text: string,
    next: { step?: string; in?: number } = {},
  ) =>
    void must(
      await sayOfCustomer(await at(daysAgo), {
        company: "HSF",
        partner: partnerCode(name),
        kind,
        text,
        nextStep: next.step ?? "",
        ...(next.in === undefined ? {} : { nextOn: addDays(today, next.in) }),
      }),
      name,
    );
  const promise = async (name: string, daysAgo: number, days: number, list: Item[], by: string) => {
    if (list.length === 0) return;
    // The clerk's day then was another one: the promise is noted as of it.
    await onDay(database, addDays(today, -daysAgo), async () => {
      must(
        await makePromise(await at(daysAgo, 11), {
          company: "HSF",
          partner: partnerCode(name),
          due: addDays(today, days),
          how: "transfer",
          by,
          items: list.map(({ id }) => ({ id })),
        }),
        name,
      );
    });
  };
  const dispute = async (item: Item | undefined, daysAgo: number, reason: string, note: string) => {
    if (!item) return null;
    return onDay(database, addDays(today, -daysAgo), async () =>
      must(
        await openDispute(await at(daysAgo, 14), {
          item: item.id,
          reason,
          note,
          owner: "budget",
          by: addDays(today, 9),
        }),
        item.reference,
      ),
    );
  };
  await say(
    CUSTOMERS.tours,
    34,
    "call",
    "Petra Lanning: season was slow, asks for patience until October.",
  );
  await say(
    CUSTOMERS.tours,
    13,
    "call",
    "Promises the two oldest for the 30th; the rest in November.",
  );
  await promise(CUSTOMERS.tours, 13, -6, late(CUSTOMERS.tours).slice(0, 2), "Petra Lanning");
  await say(
    CUSTOMERS.builders,
    20,
    "mail out",
    "Statement of account sent again, asked for a payment plan.",
  );
  await say(
    CUSTOMERS.builders,
    8,
    "call",
    "Joan Pike: waits for the council's own payment, pays as soon as it is in.",
    {
      step: "call again",
      in: 1,
    },
  );
  await say(
    CUSTOMERS.council,
    11,
    "mail in",
    "Dara Holm: the terminal services of September were agreed at the old rate.",
  );
  await dispute(
    late(CUSTOMERS.council)[0] ?? of(CUSTOMERS.council)[0],
    10,
    "price",
    "Agreed at the old rate until the end of the year, says the treasurer.",
  );
  await say(
    CUSTOMERS.council,
    2,
    "note",
    "Asked the harbour office for the letter of agreement. @budget do you have it?",
  );
  const solved = await dispute(
    late(CUSTOMERS.fish)[0],
    25,
    "quantity",
    "Counts 14 crossings, we 15.",
  );
  if (solved)
    await onDay(database, addDays(today, -4), async () =>
      must(
        await closeDispute(await at(4), {
          id: solved.id,
          outcome: "upheld",
          note: "The log of the bridge shows 15; they agree.",
        }),
        "solved",
      ),
    );
  await promise(CUSTOMERS.cruise, 3, 8, late(CUSTOMERS.cruise).slice(0, 3), "Ivo Marsh");
  await say(
    CUSTOMERS.cruise,
    3,
    "call",
    "Shared services run payments on Fridays; the three oldest go with the next but one.",
  );
  const small = [...new Set(items.filter((i) => i.due < today).map((i) => i.partner))].filter(
    (p) => !Object.values(CUSTOMERS).some((n) => partnerCode(n) === p),
  );
  const nameOf = new Map(demoCustomers.map((c) => [c.code, c.name]));
  for (const [i, code] of small.entries()) {
    const name = nameOf.get(code)!;
    if (i % 4 === 0) await say(name, 6 + (i % 9), "call", SMALL_TALK[i % SMALL_TALK.length]!);
    if (i % 6 === 1)
      await promise(name, 9, i % 12 === 1 ? -2 : 6, late(name).slice(0, 1), "accounts");
  }
}

const SMALL_TALK = [
  "Nobody there before Thursday; message left.",
  "Says that it was paid on Friday. Ask for the reference if it is not in by the week's end.",
  "Wants a copy of the invoice; sent while on the line.",
  "Bookkeeper is back on Monday, will look into it then.",
  "The invoice waits for the signature of the board.",
];
