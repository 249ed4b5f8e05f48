import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { JOB_KINDS, type JobKindId, type JobState } from "@/core/jobs";
import { fail, ok, type Result } from "@/core/shared";
import { may } from "@/core/access";
import { defineUseCase, type Context } from "../access";
import { rows } from "../db";

/** A job, for people. */
export interface JobView {
  id: number;
  /** What is done, for people. */
  kind: string;
  title: string;
  page: string;
  company: string | null;
  state: JobState;
  done: number;
  total: number | null;
  /** What came of it, where it did not end well. */
  note: string;
  askedBy: string;
  askedAt: string;
  endedAt: string | null;
  /** Whether this person may stop it. */
  mayStop: boolean;
}

/** Jobs that are under way, and those that ended of late. */
const SHOWN = 30;

interface Row extends Omit<JobView, "mayStop"> {
  personId: number;
}

const seen = ({ person }: Context, row: Row): boolean =>
  row.personId === person.id ||
  (row.company !== null &&
    (["read.ledger", "read.close"] as const).some((r) => may(person.grants, r, row.company!)));

const mayStop = (context: Context, row: Row): boolean =>
  row.personId === context.person.id ||
  (row.company !== null && context.may("period.ledger", row.company));

const readJobs = ({ tx }: Context, where = sql`true`): Promise<Row[]> =>
  rows<Row>(
    tx,
    sql`select j.id, j.kind, j.title, j.page, c.code as company, j.state, j.done, j.total, j.note,
      p.name as "askedBy", j.asked_at as "askedAt", j.ended_at as "endedAt",
      j.person_id as "personId"
      from job j join person p on p.id = j.person_id left join company c on c.id = j.company_id
      where ${where} order by (j.state in ('waiting', 'running')) desc, j.id desc limit 500`,
  );

export const listJobs = defineUseCase({
  name: "listJobs",
  kind: "read",
  rights: "signed-in",
  what: "see jobs",
  of: "checked",
  schema: object(),
  run: async (context): Promise<Result<JobView[]>> =>
    ok(
      (await readJobs(context))
        .filter((row) => seen(context, row))
        .slice(0, SHOWN)
        .map((row) => {
          const { personId: _person, ...job } = row;
          return { ...job, kind: JOB_KINDS[job.kind as JobKindId], mayStop: mayStop(context, row) };
        }),
    ),
});

/** Asks a job to stop: it does after the step in hand, and takes back what it has done by halves. */
export const stopJob = defineUseCase({
  name: "stopJob",
  kind: "write",
  rights: "signed-in",
  what: "stop this job",
  of: "checked",
  schema: object({ id: number().integer().max(2_147_483_647).required() }),
  run: async (context, { id }): Promise<Result<{ id: number }>> => {
    const [row] = await readJobs(context, sql`j.id = ${id}`);
    if (!row || !seen(context, row)) return fail({ code: "NOT_FOUND", what: "such job" });
    if (!mayStop(context, row)) return fail({ code: "FORBIDDEN", what: "stop this job" });
    if (row.state !== "waiting" && row.state !== "running")
      return fail({ code: "INVALID", what: "The job has ended" });
    await context.tx.execute(sql`update job set stop_asked = true where id = ${id}`);
    await context.audit({
      action: "stopped",
      kind: "job",
      recordId: id,
      label: row.title,
      companyId: row.company === null ? null : context.masters.companyByCode.get(row.company)!.id,
    });
    return ok({ id });
  },
});
