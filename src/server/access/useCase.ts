import type { AnySchema, InferType } from "yup";
import { may, mayEverywhere, type Grant, type Right } from "@/core/access";
import type { Masters } from "@/core/ledger";
import { demoClock } from "./demoClock";
import { decodeJson, encodeJson, fail, parse, type CalendarDate, type Result } from "@/core/shared";
import { sql } from "drizzle-orm";
import { inTransaction, rows, schema, type Database, type Db } from "../db";
import { sealAfterClosing } from "../evidence";
import { log } from "../log";
import { loadMasters } from "../organisation/masters";
import { lockChains } from "./locks";

export interface Person {
  id: number;
  login: string;
  name: string;
  initials: string;
  grants: readonly Grant[];
  /** Hash of the secret of the sign-in that asks; none where the system acts for somebody. */
  session?: string;
  /**
   * A role of theirs demands a second factor, and they have none: until they have set one up they
   * hold no right.
   */
  lacksSecondFactor?: boolean;
}

/** Who calls a use case, and on which database. Null: nobody has signed in. */
export interface Caller {
  database: Database;
  person: Person | null;
  /** Instant of the call; tests and the demo's scenario set it. */
  now?: () => Date;
  /**
   * A repeat of a request that a program sent before is answered as the first one was, and does
   * nothing.
   */
  idempotency?: { key: string; requestHash: string };
}

/** A caller who has signed in. */
export type SignedIn = Caller & { person: Person };

export interface AuditRecord {
  action: string;
  kind: string;
  recordId: string | number;
  label?: string;
  companyId?: number | null;
  before?: unknown;
  after?: unknown;
}

/** What a use case works with: one transaction, the person, master data, the working date. */
export interface Context {
  tx: Db;
  person: Person;
  masters: Masters;
  /** The date on which work is done: today, or the date that the installation is set to. */
  today: CalendarDate;
  /** When it is done, as it is noted: in the demo on its own day, whatever the machine's clock says. */
  now: Date;
  /** By the machine's clock: for what has to hold against other machines. */
  instant: Date;
  may(right: Right, company?: string): boolean;
  /** Whether the right is held in every company: what belongs to the group wants it so. */
  mayEverywhere(right: Right): boolean;
  audit(...records: AuditRecord[]): Promise<void>;
}

/**
 * To what a use case belongs, besides the company that its input names:
 * - "group": what all companies share is changed, or all of it is seen: the right is needed in every
 *   company;
 * - "shared": what all companies share is read: the right in any of them is enough;
 * - "self": the person's own things;
 * - "checked": things of companies, found by their identity: the use case asks for the right where
 *   they belong, and lists only what is seen there. A test holds every one of these to it;
 * - a function: where the things belong that the input names, null for the group. The right is
 *   needed in each; where it finds nothing, the use case says so.
 */
export type Belongs<I> =
  | "group"
  | "shared"
  | "self"
  | "checked"
  | ((context: Context, input: I) => Promise<readonly (string | null)[]>);

type Place<I> =
  | { company: (input: I) => string | undefined; of?: Belongs<I> }
  | { company?: (input: I) => string | undefined; of: Belongs<I> };

interface DefinitionOf<S extends AnySchema, O, P> {
  name: string;
  kind: "read" | "write";
  /** One of these rights is needed; "signed-in" for what everybody may do who has signed in. */
  rights: readonly Right[] | "signed-in";
  /** What is refused, in words that follow "You may not". */
  what: string;
  /**
   * The companies in which it may post, or take what a posting takes. They are locked before it
   * reads anything: what it reads is still so when it writes. Use cases that run within others lock
   * nothing anew.
   */
  locks?: (context: Context, input: InferType<S>) => Promise<readonly string[]>;
  /** It closes something: what is final by then is sealed and signed when it has been done. */
  closes?: true;
  schema: S;
  /**
   * What is made of the input after the right and before the transaction begins: reading material
   * from outside, which may take long and must not hold a lock meanwhile; asking for a password,
   * where a wrong one has to stay counted.
   */
  prepare?(input: InferType<S>, caller: SignedIn): Promise<Result<P>>;
  run(context: Context, input: InferType<S>, prepared: P): Promise<Result<O>>;
}
/** A use case as its area defines it. */
export type Definition<S extends AnySchema, O, P = void> = DefinitionOf<S, O, P> &
  Place<InferType<S>>;

export interface UseCase<O = unknown> {
  (caller: Caller, input?: unknown): Promise<Result<O>>;
  readonly definition: Definition<AnySchema, O>;
}

const registry = new Map<string, UseCase>();
/** Every use case there is; the rights of each are tested for each role. */
export const useCases = (): ReadonlyMap<string, UseCase> => registry;

/**
 * Makes a use case: rights, then the shape of the input, then one transaction. There is no other
 * way to the data.
 */
export function defineUseCase<S extends AnySchema, O, P = void>(
  definition: Definition<S, O, P>,
): UseCase<O> {
  const call = async (caller: Caller, raw: unknown = {}): Promise<Result<O>> => {
    const { person } = caller;
    const forbidden = fail({
      code: "FORBIDDEN",
      what: person ? definition.what : `${definition.what} without signing in`,
    });
    if (!person) return forbidden;
    const { rights } = definition;
    // First without the company, so that what a stranger to the area sends is not even read.
    if (rights !== "signed-in" && !rights.some((r) => may(person.grants, r))) return forbidden;
    const input = parse(definition.schema, raw);
    if (!input.ok) return input;
    const company = definition.company?.(input.value as InferType<S>);
    if (
      rights !== "signed-in" &&
      company !== undefined &&
      !rights.some((r) => may(person.grants, r, company))
    )
      return forbidden;
    const prepared = await definition.prepare?.(input.value as InferType<S>, {
      ...caller,
      person,
    });
    if (prepared && !prepared.ok) return prepared;
    const result = await inTransaction(
      caller.database.db,
      async (tx) => {
        const context = await contextOf(tx, caller, person);
        if (!(await isMine(definition, context, input.value as InferType<S>))) return forbidden;
        if (definition.locks)
          await lockChains(tx, await definition.locks(context, input.value as InferType<S>));
        const work = () =>
          definition.run(context, input.value as InferType<S>, prepared?.value as P);
        return caller.idempotency && definition.kind === "write"
          ? once(context, caller.idempotency, work)
          : work();
      },
      definition.kind === "read" && caller.database.kind === "server"
        ? "repeatable read"
        : undefined,
    );
    // What was done is done, whether it can be sealed now or only by the next seal.
    if (result.ok && definition.closes)
      await sealAfterClosing(caller.database).catch((error: unknown) =>
        log.error({ err: error }, "seal"),
      );
    return result;
  };
  const made = Object.assign(call, {
    definition: definition as unknown as Definition<AnySchema, O>,
  }) as UseCase<O>;
  registry.set(definition.name, made as UseCase);
  return made;
}

/**
 * What is said to somebody who could not be let into a use case at all, in a company where one is
 * named: asked before a byte of a body is read. Null where they could; the use case itself asks
 * again, of everything that it touches.
 */
export function refusedUnread(
  { definition: { rights, what } }: UseCase,
  person: Person,
  company?: string,
): Result<never> | null {
  const could = rights === "signed-in" || rights.some((r) => may(person.grants, r, company));
  return could ? null : fail({ code: "FORBIDDEN", what });
}

/** What a person works with in a transaction. */
export async function contextOf(tx: Db, caller: Caller, person: Person): Promise<Context> {
  const { masters, today, isDemo } = await loadMasters(tx);
  const instant = caller.now?.() ?? new Date();
  const now = isDemo && today && !caller.now ? demoClock(today, instant) : instant;
  const companies = masters.companies.map((c) => c.code);
  return {
    tx,
    person,
    masters,
    today: today ?? now.toISOString().slice(0, 10),
    now,
    instant,
    may: (right, where) => may(person.grants, right, where),
    mayEverywhere: (right) => mayEverywhere(person.grants, right, companies),
    audit: (...records) => writeAudit(tx, person.id, now, ...records),
  };
}

/** Whether the person holds one of the rights wherever the use case belongs. */
async function isMine<S extends AnySchema, O, P>(
  { rights, of }: Definition<S, O, P>,
  context: Context,
  input: InferType<S>,
): Promise<boolean> {
  if (rights === "signed-in" || of === undefined) return true;
  const everywhere = () => rights.some((r) => context.mayEverywhere(r));
  if (of === "group") return everywhere();
  if (typeof of === "string") return true;
  const places = await of(context, input);
  return places.every((company) =>
    company === null ? everywhere() : rights.some((r) => context.may(r, company)),
  );
}

/**
 * Runs the work unless the key was used before. In the same transaction as the work: both are
 * there, or neither.
 */
async function once<O>(
  { tx, person, now }: Context,
  { key, requestHash }: { key: string; requestHash: string },
  work: () => Promise<Result<O>>,
): Promise<Result<O>> {
  const taken = await rows<{ key: string }>(
    tx,
    sql`insert into idempotency (person_id, key, request_hash, status, body, at)
      values (${person.id}, ${key}, ${requestHash}, 0, 'null'::jsonb, ${now.toISOString()})
      on conflict (person_id, key) do nothing returning key`,
  );
  if (taken.length === 0) {
    const [before] = await rows<{ requestHash: string; body: string }>(
      tx,
      sql`select request_hash as "requestHash", body::text as body from idempotency
        where person_id = ${person.id} and key = ${key}`,
    );
    return before!.requestHash === requestHash
      ? { ok: true, value: decodeJson<O>(before!.body) }
      : fail({ code: "IDEMPOTENCY_REUSED", field: "Idempotency-Key" });
  }
  const result = await work();
  if (result.ok)
    await tx.execute(
      sql`update idempotency set status = 200, body = ${encodeJson(result.value)}::jsonb
        where person_id = ${person.id} and key = ${key}`,
    );
  return result;
}

export async function writeAudit(
  tx: Db,
  personId: number | null,
  now: Date,
  ...records: AuditRecord[]
): Promise<void> {
  for (let i = 0; i < records.length; i += AT_ONCE)
    await tx.insert(schema.auditEvent).values(
      records.slice(i, i + AT_ONCE).map((record) => ({
        at: now,
        personId,
        action: record.action,
        kind: record.kind,
        recordId: String(record.recordId),
        label: record.label ?? "",
        companyId: record.companyId ?? null,
        before: plain(record.before),
        after: plain(record.after),
      })),
    );
}

/** A statement takes at most 65,535 parameters. */
const AT_ONCE = 5000;

/** Bigints have no JSON; in the audit record they stand as text. */
const plain = (value: unknown): unknown =>
  value === undefined
    ? null
    : JSON.parse(
        JSON.stringify(value, (_k, v: unknown) => (typeof v === "bigint" ? String(v) : v)),
      );
