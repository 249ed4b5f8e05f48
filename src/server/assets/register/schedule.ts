import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, isCalendarDate, minor, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { balanceOn } from "../../openItems";

/** A class in the movements schedule; cost positive, what is charged positive too. */
export interface ScheduleRow {
  /** Empty for what stands on the accounts without an asset. */
  code: string;
  name: string;
  assets: number;
  costOpening: Minor;
  takenOver: Minor;
  additions: Minor;
  retired: Minor;
  cost: Minor;
  chargedOpening: Minor;
  chargedBefore: Minor;
  charged: Minor;
  chargedRetired: Minor;
  accumulated: Minor;
  carried: Minor;
}
export interface Schedule {
  rows: ScheduleRow[];
  /** What the control accounts of assets hold in the book at the end. */
  held: Minor;
  /** The newest period that a depreciation run has charged; null where none has. */
  chargedUpTo: string | null;
}

/**
 * What has moved the assets of a company in a book from one day to another, by class: cost and
 * depreciation from the opening to the closing (IAS 16.73), and what its accounts hold.
 */
export const assetSchedule = defineUseCase({
  name: "assetSchedule",
  kind: "read",
  rights: ["read.assets"],
  what: "see assets",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    book: string().default(""),
    from: string().required(),
    to: string().required(),
  }),
  run: async (context, input): Promise<Result<Schedule>> => {
    const { masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const book = input.book === "" ? masters.mainBook : masters.bookByCode.get(input.book);
    if (!book)
      return fail({ code: "NOT_FOUND", what: `book ${input.book.slice(0, 40)}`, field: "book" });
    for (const field of ["from", "to"] as const)
      if (!isCalendarDate(input[field]))
        return fail({ code: "DATE_INVALID", text: input[field], field });
    const accounts = masters.accounts.filter((a) => a.control === "asset").map((a) => a.id);
    return ok({
      rows: await scheduleRows(context, company.id, book.id, input),
      held: minor(
        accounts.length === 0
          ? 0n
          : await balanceOn(context, company.id, accounts, { on: input.to, bookId: book.id }),
      ),
      chargedUpTo: await chargedUpTo(context, company.id),
    });
  },
});

async function scheduleRows(
  { tx }: Context,
  companyId: number,
  bookId: number,
  { from, to }: { from: string; to: string },
): Promise<ScheduleRow[]> {
  const found = await rows<{
    code: string;
    name: string;
    assets: number;
    part: string;
    movement: string;
    before: bigint;
    within: bigint;
  }>(
    tx,
    sql`select coalesce(c.code, '') as code, coalesce(c.name, '') as name,
        count(distinct e.asset_id)::int as assets, e.part, e.movement,
        coalesce(sum(e.amount) filter (where e.date < ${from}), 0)::bigint as before,
        coalesce(sum(e.amount) filter (where e.date >= ${from}), 0)::bigint as within
      from asset_entry e join account a on a.id = e.account_id and a.control = 'asset'
        left join asset x on x.document_id = e.asset_id left join asset_class c on c.id = x.class_id
      where e.company_id = ${companyId} and e.book_id in (0, ${bookId}) and e.date <= ${to}
      group by c.code, c.name, e.part, e.movement order by c.code nulls last`,
  );
  const codes = [...new Set(found.map((f) => f.code))];
  return codes.map((code) => {
    const own = found.filter((f) => f.code === code);
    const sum = (part: string, when: "before" | "within", movements?: readonly string[]): bigint =>
      own.reduce(
        (t, f) =>
          f.part === part && (!movements || movements.includes(f.movement)) ? t + f[when] : t,
        0n,
      );
    // What has no asset is cost as it stands.
    const part = code === "" ? "waiting" : "cost";
    const costOpening = sum(part, "before");
    const cost = costOpening + sum(part, "within");
    const chargedOpening = -sum("accumulated", "before");
    const accumulated = chargedOpening - sum("accumulated", "within");
    return {
      code,
      name: own[0]!.name,
      assets: Math.max(...own.map((f) => f.assets)),
      costOpening: minor(costOpening),
      takenOver: minor(sum(part, "within", ["taken over"])),
      additions: minor(sum(part, "within", ["booked", "addition", "correction"])),
      retired: minor(sum(part, "within", ["retirement"])),
      cost: minor(cost),
      chargedOpening: minor(chargedOpening),
      chargedBefore: minor(-sum("accumulated", "within", ["taken over"])),
      charged: minor(-sum("accumulated", "within", ["charge"])),
      chargedRetired: minor(-sum("accumulated", "within", ["retirement"])),
      accumulated: minor(accumulated),
      carried: minor(cost - accumulated),
    };
  });
}

async function chargedUpTo({ tx }: Context, companyId: number): Promise<string | null> {
  const [found] = await rows<{ period: string | null }>(
    tx,
    sql`select max(r.params->>'period') as period from run r join document d on d.id = r.id
      where r.kind = 'depreciation' and r.company_id = ${companyId} and d.status = 'posted'`,
  );
  return found!.period;
}
