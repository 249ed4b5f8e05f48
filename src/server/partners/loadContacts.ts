import { sql } from "drizzle-orm";
import { array, boolean, object } from "yup";
import {
  atCell,
  atRow,
  cellAt,
  fail,
  ok,
  parse,
  tableRow,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, rows } from "../db";
import { contactSchema, writeContacts, type PartnerContact } from "./contacts";
import { dealingWith } from "./dealing";

/** Columns of contacts as a file, in and out; the number is the customer's. */
export const CONTACT_COLUMNS = ["code", "name", "role", "telephone", "email", "language"] as const;

/** A contact with the number of its customer. */
export type ListedContact = Omit<PartnerContact, "id"> & { code: string };

/** Whom one speaks to at all customers, in the order in which each has them. */
export const listContacts = defineUseCase({
  name: "listContacts",
  kind: "read",
  rights: ["read.receivables"],
  what: "see contacts of customers",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<ListedContact[]>> =>
    ok(
      await rows<ListedContact>(
        tx,
        sql`select p.code, c.name, c.role, c.telephone, c.email, c.language
          from partner_contact c join partner p on p.id = c.partner_id
          where p.customer order by p.code, c.id`,
      ),
    ),
});

const codeIn = (row: Readonly<Record<string, string>>): string =>
  (row.code ?? row.customer ?? "").trim();

/**
 * Contacts from a table, one a row: of each customer that is named the rows are all that there are
 * from then on. All are taken in or none; without `take` it only says what would happen.
 */
export const loadContacts = defineUseCase({
  name: "loadContacts",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "load contacts of customers",
  of: (context, input) => dealingWith(context, [...new Set(input.rows.map(codeIn))]),
  schema: object({
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    { tx, audit },
    { rows: table, take },
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    if (table.length === 0) return fail({ code: "INVALID", what: "The table has no rows" });
    const known = await customersOf(tx, [...new Set(table.map(codeIn))]);
    const problems: Found[] = [];
    const written = new Map<string, Omit<PartnerContact, "id">[]>();
    for (const [i, row] of table.entries()) {
      const no = i + 2;
      const code = codeIn(row);
      const bad = (what: string, field: string) =>
        problems.push(atRow(no, { code: "INVALID", what, field }));
      if (!known.has(code)) {
        bad(code === "" ? "The customer is missing" : `There is no customer ${code}`, "code");
        continue;
      }
      const own = Object.fromEntries(
        CONTACT_COLUMNS.flatMap((c) => (cellAt(row, c) === undefined ? [] : [[c, cellAt(row, c)]])),
      );
      const contact = parse(contactSchema, own);
      if (!contact.ok) problems.push(...contact.problems.map((p) => atCell(no, p)));
      else written.set(code, [...(written.get(code) ?? []), contact.value]);
    }
    const [against, ...others] = problems;
    if (against) return fail(against, ...others);
    const lists = [...written].map(([code, contacts]) => ({ ...known.get(code)!, code, contacts }));
    const counts = { added: 0, changed: 0, same: 0 };
    const moved = lists.filter((l) => {
      const same = JSON.stringify(l.before) === JSON.stringify(l.contacts.map(asKept));
      counts[same ? "same" : l.before.length === 0 ? "added" : "changed"]++;
      return !same;
    });
    if (!take) return ok(counts);
    await writeContacts(
      tx,
      moved.map((l) => ({ partner: l.id, contacts: l.contacts })),
    );
    await audit(
      ...moved.map(({ id, code, before, contacts }) => ({
        action: "changed",
        kind: "contacts",
        recordId: id,
        label: code,
        before,
        after: contacts,
      })),
    );
    return ok(counts);
  },
});

const asKept = ({ name, role, telephone, email, language }: Omit<PartnerContact, "id">) => [
  name,
  role,
  telephone,
  email,
  language,
];

/** Customers by number, with what is known of whom one speaks to there. */
async function customersOf(tx: Parameters<typeof writeContacts>[0], codes: readonly string[]) {
  const found = await rows<{ id: number; code: string; before: string[][] }>(
    tx,
    sql`select p.id, p.code, coalesce((select jsonb_agg(jsonb_build_array(c.name, c.role,
          c.telephone, c.email, c.language) order by c.id) from partner_contact c
          where c.partner_id = p.id), '[]') as before
      from partner p where p.customer and p.code = any(${arrayOf(codes)}::text[]) for update of p`,
  );
  return new Map(found.map((f) => [f.code, f]));
}
