import { sql } from "drizzle-orm";
import type { MatchFacts, MatchLine } from "@/core/banks/matching";
import { conversionOn, convertBy } from "@/core/rates";
import type { Minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf } from "../../db";
import { ratesFor } from "../../rates";
import { lacksOtherSide, readLines } from "./matchFacts";

/** An account of our own, as far as exchanging asks. */
interface Own {
  id: number;
  companyId: number;
  currency: string;
  iban: string;
  number: string;
}

/**
 * What money that is exchanged between accounts of a company asks for: the lines in its other
 * currencies that can be the other side of one of these, and what both are worth on their days. Nothing
 * where no line of either names an account of the other.
 */
export async function exchangedFacts(
  { tx, masters }: Context,
  group: { companyId: number; company: string; currency: string },
  lines: readonly MatchLine[],
  own: readonly Own[],
): Promise<Pick<MatchFacts, "exchanged" | "worth">> {
  const ofCompany = own.filter((o) => o.companyId === group.companyId);
  const far = ofCompany.filter((o) => o.currency !== group.currency);
  if (far.length === 0) return {};
  const byAccount = new Map(far.map((o) => [o.iban || o.number, o.id]));
  const named = [...new Set(lines.flatMap((l) => byAccount.get(l.party.account) ?? []))];
  const near = ofCompany
    .filter((o) => o.currency === group.currency)
    .map((o) => o.iban || o.number);
  const exchanged = await readLines(
    tx,
    sql`l.bank_account_id = any(${arrayOf(far.map((o) => o.id))}::int[])
      and (l.bank_account_id = any(${arrayOf(named)}::int[])
        or l.party_account = any(${arrayOf(near)}::text[]))
      and (l.state in ('certain', 'to decide', 'unexplained') or (${lacksOtherSide}))
      order by l.id`,
  );
  if (exchanged.length === 0) return {};
  const both = [...lines, ...exchanged];
  const rates = await ratesFor(
    tx,
    masters,
    both.map((l) => ({ companies: [group.company], currency: l.currency, date: l.booked })),
  );
  const functional = masters.companyByCode.get(group.company)!.currency;
  const known = new Map<string, ReturnType<typeof conversionOn>>();
  const rateOf = ({ currency, booked }: MatchLine) => {
    const key = `${currency} ${booked}`;
    if (!known.has(key)) known.set(key, conversionOn(rates, "spot", currency, functional, booked));
    return known.get(key) ?? null;
  };
  const worth = new Map<number, Minor>();
  for (const l of both) {
    const rate = rateOf(l);
    if (rate !== null) worth.set(l.id, convertBy(l.amount, l.currency, functional, rate));
  }
  return { exchanged, worth };
}
