import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { linkedJournals, type LinkedJournal } from "./linkedJournals";

/** A table that was taken in. */
export interface LoadRow {
  id: number;
  /** The file, as it was called, or "pasted rows". */
  source: string;
  at: string;
  by: string;
  mode: string;
  /** Its journals in companies that the person sees, and how many of them are posted by now. */
  journals: number;
  posted: number;
}

/** A journal of a load as it stands now, with those of other companies that were posted with it. */
export interface JournalOfLoad {
  id: number;
  /** What the file calls it. */
  key: string;
  number: string | null;
  company: string;
  date: string | null;
  description: string;
  status: string;
  amount: Minor;
  currency: string;
  linked: LinkedJournal[];
}
export interface LoadView extends LoadRow {
  items: JournalOfLoad[];
}

const RIGHTS = ["read.ledger", "prepare.ledger"] as const;
const MOST_LISTED = 200;

/** Companies whose journals the person may see. */
const seen = ({ masters, may }: Context) =>
  sql`any(${arrayOf(
    masters.companies.filter((c) => RIGHTS.some((r) => may(r, c.code))).map((c) => c.id),
  )}::int[])`;

const listed = (context: Context, condition = sql`true`) =>
  rows<LoadRow>(
    context.tx,
    sql`select l.id, l.source, l.at, p.name as by, l.mode, count(*)::int as journals,
        count(*) filter (where d.status in ('posted', 'reversed'))::int as posted
      from journal_load l join person p on p.id = l.person_id
        join loaded_journal j on j.load_id = l.id join document d on d.id = j.document_id
      where d.company_id = ${seen(context)} and ${condition}
      group by l.id, p.name order by l.id desc limit ${MOST_LISTED}`,
  );

/** The newest loads that brought journals of a company. */
export const listLoads = defineUseCase({
  name: "listLoads",
  kind: "read",
  rights: RIGHTS,
  what: "see loads",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, input): Promise<Result<LoadRow[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    return company
      ? ok(
          await listed(
            context,
            sql`exists (select 1 from loaded_journal x join document y on y.id = x.document_id
              where x.load_id = l.id and y.company_id = ${company.id})`,
          ),
        )
      : fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  },
});

/** A load with what has become of each of its journals. */
export const getLoad = defineUseCase({
  name: "getLoad",
  kind: "read",
  rights: RIGHTS,
  what: "see loads",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<LoadView>> => {
    const [load] = await listed(context, sql`l.id = ${input.id}::bigint`);
    if (!load) return fail({ code: "NOT_FOUND", what: "such load" });
    const found = await rows<
      Omit<JournalOfLoad, "id" | "linked" | "amount"> & { id: bigint; amount: bigint | null }
    >(
      context.tx,
      sql`select d.id, j.key, d.number, c.code as company, d.date, d.title as description,
          d.status, d.amount, d.currency
        from loaded_journal j join document d on d.id = j.document_id
          join company c on c.id = d.company_id
        where j.load_id = ${load.id}
          and d.company_id = ${seen(context)}
        order by d.id`,
    );
    const linked = await linkedJournals(
      context.tx,
      found.map((f) => f.id),
    );
    return ok({
      ...load,
      items: found.map((f) => ({
        ...f,
        id: Number(f.id),
        amount: minor(f.amount ?? 0n),
        linked: linked.get(Number(f.id)) ?? [],
      })),
    });
  },
});
