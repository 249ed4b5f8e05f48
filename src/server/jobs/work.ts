import { sql } from "drizzle-orm";
import type { JobKindId } from "@/core/jobs";
import { describeProblem, fail, ok, type Result } from "@/core/shared";
import { actingPerson, contextOf, type SignedIn } from "../access";
import { inTransaction, isDuplicate, rows, type Database, type Db } from "../db";
import { log } from "../log";
import { jobKind, type JobAtWork } from "./kind";

/** A worker that was not heard of for so long has stopped: another one begins its job again. */
const SILENT_SECONDS = 90;
/** So often a job is begun; one that brings its machine down must not do so for ever. */
const MOST_ATTEMPTS = 3;

interface Claimed {
  id: number;
  kind: JobKindId;
  personId: number;
  params: Record<string, unknown>;
  attempts: number;
}

/** It does not go on, for a reason that people can do something about. */
class Refused extends Error {}
/** It was asked to stop. */
class Stopped extends Error {}
/** Another worker has it: this one was silent for too long. */
class Lost extends Error {}

const SILENT = sql`(heard_at < now() - make_interval(secs => ${SILENT_SECONDS}))`;
/** Jobs that may begin: nobody works on them, nor on one that excludes them. */
const NEXT = sql`job j where (state = 'waiting' or (state = 'running' and ${SILENT}))
  and not exists (
    select 1 from job o where o.alone = j.alone and o.state = 'running' and o.id <> j.id)`;

/** Whether there is a job that may begin. */
export async function hasJobs({ db }: Database): Promise<boolean> {
  const found = await rows(db, sql`select 1 from ${NEXT} limit 1`);
  return found.length > 0;
}

/**
 * Begins again what a process of these books had begun that is no more. Only where no other can
 * work on them: whoever holds the folder of embedded books is alone.
 */
export const forgetWorkers = ({ db }: Database): Promise<unknown> =>
  db.execute(sql`update job set state = 'waiting', worker = null where state = 'running'`);

/**
 * Takes the next job that may begin and works on it until it has ended. False where there is none:
 * of those that exclude each other one works at a time, whichever process takes it.
 */
export async function workOnNext(
  database: Database,
  worker: string,
  now?: () => Date,
): Promise<boolean> {
  const claimed = await claim(database.db, worker);
  if (!claimed) return false;
  const { id, personId, kind: kindId } = claimed;
  const kind = await jobKind(kindId);
  const person = await actingPerson(database, personId);
  const caller = { database, person, ...(now ? { now } : {}) };
  try {
    if (!person) throw new Refused("Whoever asked for it has no access any more.");
    if (claimed.attempts > MOST_ATTEMPTS)
      throw new Refused(`It was begun ${MOST_ATTEMPTS} times and stopped on the way each time.`);
    const asked: SignedIn = { ...caller, person };
    const result = await kind.work({
      params: kind.schema.validateSync(claimed.params) as never,
      step: stepOf(asked, id, worker),
    });
    if (!result.ok) throw new Refused(result.problems.map(describeProblem).join(" "));
    await end(database.db, id, worker, "done", "");
  } catch (error) {
    if (error instanceof Lost) return true;
    const stopped = error instanceof Stopped;
    const foreseen = stopped || error instanceof Refused;
    if (!foreseen) log.error({ err: error, job: id }, "job");
    const note = stopped ? "" : foreseen ? error.message : UNFORESEEN;
    // What it has done by halves goes, and that it is over is noted, in one transaction.
    const over = await inTransaction(database.db, async (tx) => {
      if (!(await hold(tx, id, worker))) return ok({});
      const context = await contextOf(tx, caller, person ?? NOBODY);
      await kind.over(context, kind.schema.validateSync(claimed.params) as never);
      await end(tx, id, worker, stopped ? "stopped" : "failed", note);
      return ok({});
    });
    if (!over.ok) throw error;
  }
  return true;
}

/** Works on all that there is, here: for programs and tests, which have no threads for it. */
export async function workOnAll(database: Database, now?: () => Date): Promise<void> {
  while (await workOnNext(database, "here", now));
}

/** What a person can't do anything about stands in the log. */
const UNFORESEEN = "Something went wrong. The log of the server says more.";
/** Taking back needs no rights. */
const NOBODY = { id: 0, login: "", name: "", initials: "", grants: [] };

async function claim(db: Db, worker: string): Promise<Claimed | undefined> {
  try {
    const [claimed] = await rows<Claimed>(
      db,
      sql`update job set state = 'running', worker = ${worker}, heard_at = now(),
        started_at = coalesce(started_at, now()), attempts = attempts + 1
        where id = (select j.id from ${NEXT} order by j.id limit 1 for update skip locked)
        returning id, kind, person_id as "personId", params, attempts`,
    );
    return claimed;
  } catch (error) {
    // Two that exclude each other were taken in one moment: the other one has begun.
    if (isDuplicate(error)) return undefined;
    throw error;
  }
}

/** Holds the job for this transaction, where it is still this worker's. */
async function hold(tx: Db, id: number, worker: string): Promise<{ stop: boolean } | undefined> {
  const [mine] = await rows<{ stop: boolean }>(
    tx,
    sql`select stop_asked as stop from job
      where id = ${id} and worker = ${worker} and state = 'running' for update`,
  );
  return mine;
}

const stepOf =
  (caller: SignedIn, id: number, worker: string): JobAtWork<unknown>["step"] =>
  async (work) => {
    let stop = false;
    const result = await inTransaction(caller.database.db, async (tx) => {
      const mine = await hold(tx, id, worker);
      if (!mine) throw new Lost();
      if (mine.stop) {
        stop = true;
        return fail({ code: "INVALID", what: "It was stopped" });
      }
      const done = await work(await contextOf(tx, caller, caller.person));
      if (!done.ok) return done;
      const progress = (done.value as { done?: number } | undefined)?.done;
      await tx.execute(
        sql`update job set heard_at = now(), done = coalesce(${progress ?? null}::int, done)
          where id = ${id} and worker = ${worker}`,
      );
      return done as Result<never>;
    });
    if (stop) throw new Stopped();
    return result;
  };

const end = (db: Db, id: number, worker: string, state: string, note: string): Promise<unknown> =>
  db.execute(
    sql`update job set state = ${state}, note = ${note.slice(0, 1000)}, ended_at = now(),
      done = case when ${state} = 'done' then coalesce(total, done) else done end
      where id = ${id} and worker = ${worker}`,
  );
