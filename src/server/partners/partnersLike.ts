import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { bankAddressKey, NO_BANK_ADDRESS, readBankAddress } from "@/core/banks";
import { nameKey, namesAlike, plainTaxNumber } from "@/core/partners";
import { ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { KEY } from "./partnerRow";
import { READ } from "./rights";

export interface PartnerLike {
  code: string;
  name: string;
  why: string;
}

export async function alikeOf(
  { tx }: Context,
  given: { code: string; name: string; taxNumber: string; accounts: readonly string[] },
): Promise<PartnerLike[]> {
  const found = await rows<{
    code: string;
    name: string;
    taxNumber: string;
    accounts: string[] | null;
  }>(
    tx,
    // Trigrams narrow thousands down; what is alike is decided by the rule of core.
    sql`select p.code, p.name, p.tax_number as "taxNumber", (select jsonb_agg(${KEY})
      from partner_bank b where b.partner_id = p.id and b.state <> 'refused') as accounts
      from partner p
        where p.code <> ${given.code} and (similarity(lower(p.name), ${nameKey(given.name)}) > 0.3
          or (p.tax_number <> '' and upper(regexp_replace(p.tax_number, '[^A-Za-z0-9]', '',
          'g')) = ${plainTaxNumber(given.taxNumber)})
          or exists (select 1 from partner_bank b
            where b.partner_id = p.id and ${KEY} = any(${arrayOf(given.accounts)}::text[])))
            limit 200`,
  );
  return found.flatMap((f): PartnerLike[] => {
    const why = [
      ...(given.taxNumber && plainTaxNumber(f.taxNumber) === plainTaxNumber(given.taxNumber)
        ? ["the same tax number"]
        : []),
      ...((f.accounts ?? []).some((a) => given.accounts.includes(a))
        ? ["the same bank account"]
        : []),
      ...(namesAlike(f.name, given.name) ? ["a name that is alike"] : []),
    ];
    return why.length > 0 ? [{ code: f.code, name: f.name, why: why.join(", ") }] : [];
  });
}

/** Who is like what is being entered: shown before it is saved. */
export const partnersLike = defineUseCase({
  name: "partnersLike",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({
    code: string().default(""),
    name: string().default(""),
    taxNumber: string().default(""),
    iban: string().default(""),
  }),
  run: async (context, input): Promise<Result<PartnerLike[]>> => {
    const read = readBankAddress({ ...NO_BANK_ADDRESS, iban: input.iban });
    const key = read.ok ? bankAddressKey(read.address) : "";
    return ok(await alikeOf(context, { ...input, accounts: key ? [key] : [] }));
  },
});
