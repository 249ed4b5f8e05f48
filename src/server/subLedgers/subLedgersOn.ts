import { sql } from "drizzle-orm";
import type { CalendarDate } from "@/core/shared";
import { readInstant } from "@/core/shared";
import type { Context } from "../access";
import type { SubLedger } from "../checks";
import { rows } from "../db";
import { balanceOn } from "../openItems";
import { SUB_LEDGERS } from "./list";

/** A list beside its control accounts on a day, in functional minor units, debit positive. */
export interface ListOnDay {
  list: SubLedger;
  /** The book, where the books differ. */
  book: string | null;
  /** Of one account where the list knows them apart, else of all of its kind. */
  accounts: string[];
  listed: bigint;
  held: bigint;
}

/**
 * Every list of a company beside its control accounts on a day, as known now or at an earlier
 * instant. Equal on every day.
 */
export async function subLedgersOn(
  context: Context,
  companyId: number,
  at: { on: CalendarDate; asKnown?: string | undefined },
): Promise<ListOnDay[]> {
  const found: ListOnDay[] = [];
  for (const list of SUB_LEDGERS) found.push(...(await listOn(context, companyId, list, at)));
  return found;
}

async function listOn(
  context: Context,
  companyId: number,
  list: SubLedger,
  at: { on: CalendarDate; asKnown?: string | undefined },
): Promise<ListOnDay[]> {
  const accounts = context.masters.accounts.filter((a) => a.control === list.control);
  if (accounts.length === 0) return [];
  const found: ListOnDay[] = [];
  const books = list.byBook ? context.masters.books : [null];
  const groups = list.by.includes("account") ? accounts.map((a) => [a]) : [accounts];
  for (const book of books) {
    const listed = await listedOn(context, companyId, list, at, book?.id);
    for (const group of groups)
      found.push({
        list,
        book: book?.code ?? null,
        accounts: group.map((a) => a.number),
        listed: listed.get(list.by.includes("account") ? group[0]!.id : null) ?? 0n,
        held: await balanceOn(
          context,
          companyId,
          group.map((a) => a.id),
          { ...at, ...(book ? { bookId: book.id } : {}) },
        ),
      });
  }
  return list.byBook ? sameOnce(found, groups) : found;
}

/** What the list comes to by account, in a book where books differ. */
async function listedOn(
  context: Context,
  companyId: number,
  list: SubLedger,
  at: { on: CalendarDate; asKnown?: string | undefined },
  bookId: number | undefined,
): Promise<Map<number | null, bigint>> {
  const known = at.asKnown ? readInstant(at.asKnown)! : null;
  const sums = await rows<{ accountId: number | null; listed: bigint }>(
    context.tx,
    sql`select account_id as "accountId", sum(functional)::bigint as listed
      from (${list.movements}) m where company_id = ${companyId} and date <= ${at.on}
        ${known ? sql`and known_at <= ${known.toISOString()}` : sql``}
        ${bookId === undefined ? sql`` : sql`and book_id in (0, ${bookId})`} group by 1`,
  );
  return new Map(sums.map((s) => [s.accountId, s.listed]));
}

/** Account by account: what every book says is said once, for all of them. */
function sameOnce(
  found: readonly ListOnDay[],
  groups: readonly (readonly { number: string }[])[],
): ListOnDay[] {
  return groups.flatMap(([account]) => {
    const own = found.filter((f) => f.accounts[0] === account!.number);
    const [first] = own;
    const differs = own.some((o) => o.listed !== first!.listed || o.held !== first!.held);
    return differs ? own : [{ ...first!, book: null }];
  });
}
