import { sql } from "drizzle-orm";
import { boolean, object, string } from "yup";
import {
  datesOf,
  describeProblem,
  fail,
  ok,
  readRhythm,
  rhythmSchema,
  rhythmText,
  type CalendarDate,
  type Problem,
  type Result,
  type Rhythm,
} from "@/core/shared";
import { runKindName } from "@/core/runs";
import { rows, type Database, readSetting } from "../db";
import { actingPerson, defineUseCase, type Caller } from "../access";
import { runKind } from "./kind";
import { postRun } from "./postRun";
import { proposeRun } from "./proposeRun";

const RIGHTS = [
  "post.ledger",
  "post.payables",
  "post.receivables",
  "post.banks",
  "post.assets",
] as const;
/** Kinds that can come by themselves: those that need nothing but a company and a day. */
const SCHEDULED: ReadonlySet<string> = new Set(["clean-up"]);

export interface Schedule {
  kind: string;
  rhythm: Rhythm;
  rhythmText: string;
  mode: "preview" | "post";
  active: boolean;
  by: string;
  next: CalendarDate | null;
  lastDate: CalendarDate | null;
  lastOutcome: string;
  lastRunId: number | null;
}

export const getSchedule = defineUseCase({
  name: "getSchedule",
  kind: "read",
  rights: ["read.payables", "read.ledger", ...RIGHTS],
  what: "see schedules",
  company: (i) => i.company,
  schema: object({ company: string().required(), kind: string().required() }),
  run: async ({ tx, masters, today }, input): Promise<Result<Schedule | null>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [row] = await rows<
      Omit<Schedule, "rhythmText" | "next" | "lastRunId"> & { lastRunId: bigint | null }
    >(
      tx,
      sql`select s.kind, s.rhythm, s.mode, s.active, p.name as by, s.last_date as "lastDate",
        s.last_outcome as "lastOutcome", s.last_run_id as "lastRunId" from run_schedule s
        join person p on p.id = s.person_id
        where s.kind = ${input.kind} and s.company_id = ${company.id}`,
    );
    if (!row) return ok(null);
    const ahead = `${Number(today.slice(0, 4)) + 10}${today.slice(4)}`;
    return ok({
      ...row,
      rhythmText: rhythmText(row.rhythm),
      lastRunId: row.lastRunId === null ? null : Number(row.lastRunId),
      next: row.active
        ? (datesOf(row.rhythm, ahead).find((d) => d > (row.lastDate ?? "") && d > today) ?? null)
        : null,
    });
  },
});

/**
 * Lets a kind of run come by itself, or stops it. It works as the person who says so, with the
 * rights that they have on that day.
 */
export const saveSchedule = defineUseCase({
  name: "saveSchedule",
  kind: "write",
  rights: RIGHTS,
  what: "schedule runs",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    kind: string().required(),
    rhythm: rhythmSchema.required(),
    mode: string()
      .oneOf(["preview", "post"] as const)
      .default("preview"),
    active: boolean().default(true),
  }),
  run: async (context, input): Promise<Result<unknown>> => {
    const { tx, masters, person, today, audit } = context;
    const company = masters.companyByCode.get(input.company);
    const kind = SCHEDULED.has(input.kind) ? await runKind(input.kind) : undefined;
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!kind)
      return fail({
        code: "NOT_FOUND",
        what: `kind of run ${input.kind} that can be scheduled`,
        field: "kind",
      });
    if (!context.may(kind.right, company.code))
      return fail({
        code: "FORBIDDEN",
        what: `schedule ${runKindName(kind.id).toLowerCase()} in ${company.name}`,
      });
    const dates = readRhythm(input.rhythm, today);
    if (!dates.ok) return dates;
    const rhythm = JSON.stringify(dates.value);
    await tx.execute(sql`insert into run_schedule (kind, company_id, rhythm, mode, active,
      person_id) values (${kind.id}, ${company.id}, ${rhythm}::jsonb, ${input.mode},
      ${input.active}, ${person.id})
      on conflict (kind, company_id) do update set rhythm = excluded.rhythm, mode = excluded.mode,
        active = excluded.active, person_id = excluded.person_id`);
    await audit({
      action: input.active ? "scheduled" : "schedule stopped",
      kind: "schedule",
      recordId: kind.id,
      label: runKindName(kind.id),
      companyId: company.id,
      after: input,
    });
    return ok({});
  },
});

/**
 * Makes what is due by today: once for each date of a rhythm, whichever process comes first. What
 * stands against it is kept as the outcome, to be read beside the schedule.
 * Several dates that were missed make one run.
 */
export async function runDueSchedules(database: Database, now?: () => Date): Promise<number> {
  const today =
    (await readSetting<string>(database.db, "working-date")) ??
    (now?.() ?? new Date()).toISOString().slice(0, 10);
  const waiting = await rows<{
    id: number;
    kind: string;
    company: string;
    rhythm: Rhythm;
    mode: string;
    personId: number;
    by: string;
    lastDate: string | null;
  }>(
    database.db,
    sql`select s.id, s.kind, c.code as company, s.rhythm, s.mode, p.id as "personId",
        p.name as by, s.last_date as "lastDate"
      from run_schedule s join company c on c.id = s.company_id join person p on p.id = s.person_id
      where s.active order by s.id`,
  );
  let made = 0;
  for (const s of waiting) {
    const due = datesOf(s.rhythm, today)
      .filter((d) => s.lastDate === null || d > s.lastDate)
      .at(-1);
    if (!due) continue;
    const claimed = await rows(
      database.db,
      sql`update run_schedule set last_date = ${due}, last_outcome = 'begun', last_run_id = null
        where id = ${s.id} and (last_date is null or last_date < ${due}) returning id`,
    );
    if (claimed.length === 0) continue;
    const person = await actingPerson(database, s.personId);
    const { outcome, run } = person
      ? await makeDue({ database, person, ...(now ? { now } : {}) }, s, today)
      : { outcome: `${s.by} has no access any more; somebody else can set it up`, run: null };
    await database.db.execute(
      sql`update run_schedule set last_outcome = ${outcome.slice(0, 500)}, last_run_id = ${run}
        where id = ${s.id}`,
    );
    made++;
  }
  return made;
}

/** Proposes a run that is due, and posts it where that is wanted: what came of it, and which it is. */
async function makeDue(
  caller: Caller,
  { kind, company, mode }: { kind: string; company: string; mode: string },
  date: CalendarDate,
): Promise<{ outcome: string; run: number | null }> {
  const said = (problems: readonly Problem[]) => problems.map(describeProblem).join(" ");
  const proposed = await proposeRun(caller, { kind, params: { company, date } });
  if (!proposed.ok) return { outcome: said(proposed.problems), run: null };
  const { id, number } = proposed.value;
  if (mode !== "post") return { outcome: `${number} waits to be looked at`, run: id };
  const posted = await postRun(caller, { key: String(id) });
  return {
    outcome: posted.ok ? `${number} posted` : `${number} waits: ${said(posted.problems)}`,
    run: id,
  };
}
