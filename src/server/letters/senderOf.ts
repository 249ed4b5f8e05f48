import { sql } from "drizzle-orm";
import { addressLines, letterWord, type Addressee, type LetterLanguage } from "@/core/letters";
import { rows, type Db } from "../db";
import type { Sender } from "./drawLetter";
import { readLayout } from "./layout";

/** Who sends the letters of a company: its head, window line and foot. */
export async function senderOf(
  tx: Db,
  companyId: number,
  language: LetterLanguage,
): Promise<
  Sender & { company: Addressee; taxNumber: string; deliverTo: string[]; contact: string }
> {
  const [company] = await rows<
    Addressee & { code: string; taxNumber: string; iban: string | null; bic: string | null }
  >(
    tx,
    sql`select c.code, c.name, c.street, c.postcode, c.city, c.country,
        c.tax_number as "taxNumber", b.iban, b.bic
      from company c left join lateral (select iban, bic from bank_account
        where company_id = c.id and currency = c.currency and iban <> ''
        order by code limit 1) b on true
      where c.id = ${companyId}`,
  );
  const layout = await readLayout(tx, { id: companyId, code: company!.code });
  const own = addressLines(company!, company!);
  const line = (...parts: (string | null | undefined)[]) => parts.filter(Boolean).join(" · ");
  const foot = [
    [...own, layout.register],
    [
      company!.taxNumber && `${letterWord("taxNumber", language)} ${company!.taxNumber}`,
      layout.telephone,
      layout.email,
      layout.website,
    ],
    [company!.iban && `IBAN ${company!.iban}`, company!.bic && `BIC ${company!.bic}`],
  ].map((lines) => lines.filter((l): l is string => Boolean(l)).slice(0, 5));
  return {
    company: company!,
    taxNumber: company!.taxNumber,
    name: company!.name,
    senderLine: layout.senderLine || line(...own),
    layout,
    foot,
    deliverTo: layout.deliverTo ? layout.deliverTo.split("\n") : own,
    contact: line(layout.contact, layout.telephone),
  };
}
