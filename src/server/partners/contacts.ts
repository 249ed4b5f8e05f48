import { sql } from "drizzle-orm";
import { array, object, string, type InferType } from "yup";
import { LETTER_LANGUAGES, type LetterLanguage } from "@/core/letters";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, insertAll, rows, schema, type Db } from "../db";
import { dealingWith } from "./dealing";

export const contactSchema = object({
  name: string().trim().required("A name is needed").max(80),
  role: string().trim().max(80).default(""),
  telephone: string()
    .trim()
    .max(40)
    .matches(/^$|^[+\d][\d ()/.-]{3,}$/, "This is no telephone number")
    .default(""),
  email: string()
    .trim()
    .max(120)
    .matches(/^$|^[^\s@]+@[^\s@]+\.[^\s@]+$/, "This is no e-mail address")
    .default(""),
  language: string().oneOf(LETTER_LANGUAGES).default("en"),
});

/** Whom one speaks to at a partner. */
export interface PartnerContact {
  id: number;
  name: string;
  role: string;
  telephone: string;
  email: string;
  language: LetterLanguage;
}

export const contactsOf = (tx: Db, partnerId: number): Promise<PartnerContact[]> =>
  rows<PartnerContact>(
    tx,
    sql`select id, name, role, telephone, email, language from partner_contact
      where partner_id = ${partnerId} order by id`,
  );

/** Whom one speaks to at a customer: all of them at once, as they are written. */
export const saveContacts = defineUseCase({
  name: "saveContacts",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "change contacts of customers",
  of: (context, input) => dealingWith(context, [input.partner]),
  schema: object({
    partner: string().required().max(60),
    contacts: array(contactSchema).max(20).required(),
  }),
  run: async ({ tx, audit }, { partner, contacts }): Promise<Result<object>> => {
    const [found] = await rows<{ id: number }>(
      tx,
      sql`select id from partner where code = ${partner} for update`,
    );
    if (!found) return fail({ code: "PARTNER_UNKNOWN", partner });
    const before = await contactsOf(tx, found.id);
    await writeContacts(tx, [{ partner: found.id, contacts }]);
    await audit({
      action: "changed",
      kind: "contacts",
      recordId: found.id,
      label: partner,
      before,
      after: contacts,
    });
    return ok({});
  },
});

type WrittenContact = InferType<typeof contactSchema>;

/** Writes all contacts of partners anew, in their order. */
export async function writeContacts(
  tx: Db,
  lists: readonly { partner: number; contacts: readonly WrittenContact[] }[],
): Promise<void> {
  await tx.execute(
    sql`delete from partner_contact
      where partner_id = any(${arrayOf(lists.map((l) => l.partner))}::int[])`,
  );
  const all = lists.flatMap(({ partner, contacts }) => contacts.map((c) => ({ ...c, partner })));
  await insertAll(
    tx,
    schema.partnerContact,
    all.map(({ partner, name, role, telephone, email, language }) => ({
      partnerId: partner,
      name,
      role,
      telephone,
      email,
      language,
    })),
  );
}
