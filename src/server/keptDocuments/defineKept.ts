import { sql } from "drizzle-orm";
import { boolean, number, object, type ObjectSchema, type ObjectShape } from "yup";
import type { Right } from "@/core/access";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context, type UseCase } from "../access";
import { askApproval, registerApprovable } from "../approvals";
import { rows } from "../db";
import { AS_KEPT, guardKept, noteOverwriting, type KeptVersion, type SentCopy } from "../documents";

/** What every kept document says of itself. */
interface Written {
  company: string;
}
/** A kept document with where it stands. */
export interface Kept<C> extends KeptVersion {
  content: C;
  status: string;
  /** Its kind in the register, where the kind of document has several. */
  kind?: string;
}

/**
 * A kind of document that people write, keep as it is typed, and post: journals, invoices, orders,
 * requests. What is the same for all of them (rights by company, versions, who has written, what is
 * written over, waiting for approval) is done by `defineKept` alone.
 *
 * C is what is written, S how it is kept, P what is made of it, K what is said of it, R what posting
 * gives.
 */
export interface KeptKind<C extends Written, S extends Kept<C>, P, K extends object, R> {
  /** Its kinds in the register of documents. */
  kinds: readonly string[];
  /** “invoice” and “invoices”: how sentences speak of it. */
  one: string;
  many: string;
  /** The names of its use cases. */
  names: { save: string; post: string; submit: string; remove: string };
  rights: { prepare: Right; post: Right };
  /** What posting is called: “post invoices”, “place orders”. */
  posting: string;
  /** Whether posting reaches the ledger: then the chains of its companies are locked first. */
  reachesLedger: boolean;
  schema: ObjectSchema<C & object>;
  /** Fields that only a new one has, beside what is written. */
  more?: ObjectShape;
  /** The kept one, locked; undefined where there is none. */
  read(context: Context, id: number): Promise<S | undefined>;
  /** What is said where there is none; “may have been deleted”, where nothing else is. */
  missing?(context: Context, id: number): Promise<Found>;
  /** What stands against writing on it now, beside a wait for approval. */
  refuses?(stored: S, act: "write" | "submit" | "post" | "remove"): Found | null;
  /** Reads and checks what is written. `stored` is null for a new one; `input` is all that came. */
  prepare(context: Context, content: C, about: About<S>): Promise<Result<P>>;
  /** What stands against posting it. */
  problems(prepared: P): readonly Found[];
  /** Who has to approve it, if anybody. */
  rule(context: Context, content: C, prepared: P): Promise<{ role: string; why: string } | null>;
  /** Keeps it, new or again, and brings the register up to it. */
  keep(context: Context, content: C, prepared: P, about: About<S>): Promise<Identity>;
  /** What is said of it while it is written. */
  check(context: Context, content: C, prepared: P): Promise<K>;
  /** Posts what is on the screen, or (`asKept`) what is kept. */
  post(context: Context, content: C, about: Posting<S>): Promise<Result<R>>;
  /** Posts what was sent, once it is approved; gives its number. */
  approve(context: Context, id: number): Promise<Result<{ number: string }>>;
  /** How the history names it. */
  label(content: C): string;
}
export interface About<S> {
  id: number | undefined;
  stored: S | null;
  input: Readonly<Record<string, unknown>>;
}
interface Posting<S> {
  id: number;
  stored: S;
  asKept: boolean;
}
interface Identity {
  id: number;
  version: number;
}

/** What keeping one answers: its version, and what stands against it. */
export type Saved<K> = K & { id: number; version: number; savedAt: string };

export interface KeptUseCases<K, R> {
  save: UseCase<Saved<K>>;
  /** Posts what is on the screen. */
  post: UseCase<R>;
  /** Sends it to whoever approves it. */
  submit: UseCase<{ id: number; number: string }>;
  remove: UseCase<object>;
}

/** Makes the use cases of a kind, and lets it be approved. */
export function defineKept<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
): KeptUseCases<K, R> {
  const { names, rights } = kind;
  for (const name of kind.kinds) registerApprovable({ kind: name, approve: kind.approve });
  const sent = {
    id: number().integer().required(),
    version: number().integer().required(),
    content: kind.schema.required(),
  };
  const save = defineUseCase({
    name: names.save,
    kind: "write",
    rights: [rights.prepare],
    what: `prepare ${kind.many}`,
    company: (i) => companyIn(i),
    schema: object({
      ...sent,
      id: number().integer(),
      version: number().integer().default(0),
      overwrite: boolean().default(false),
      ...kind.more,
    }),
    run: (context, input) => saveOne(kind, context, input as never),
  });
  const post = defineUseCase({
    name: names.post,
    kind: "write",
    rights: [rights.post],
    what: kind.posting,
    company: (i) => companyIn(i),
    ...(kind.reachesLedger
      ? { locks: ({ tx }, input) => companiesOf(tx, [input.id], input.content as never) }
      : {}),
    schema: object(sent),
    run: async (context, input): Promise<Result<R>> => {
      const { id, content } = input as unknown as Sent<C>;
      const stored = await guard(kind, context, id, input as never, "post");
      return stored.ok
        ? kind.post(context, content, { id, stored: stored.value, asKept: false })
        : stored;
    },
  });
  const submit = defineUseCase({
    name: names.submit,
    kind: "write",
    rights: [rights.prepare],
    what: `send ${kind.many} for approval`,
    company: (i) => companyIn(i),
    schema: object(sent),
    run: (context, input) => submitOne(kind, context, input as never),
  });
  const remove = defineUseCase({
    name: names.remove,
    kind: "write",
    rights: [rights.prepare],
    what: `delete drafts of ${kind.many}`,
    of: "checked",
    schema: object({ id: number().integer().required() }),
    run: (context, { id }) => removeOne(kind, context, id),
  });
  return { save, post, submit, remove };
}

interface Sent<C> extends SentCopy {
  id: number;
  content: C;
}

const companyIn = (input: unknown): string => (input as { content: Written }).content.company;

/** Says what stands against one without keeping it. */
export function defineCheck<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<K> {
  return defineUseCase({
    name,
    kind: "read",
    rights: [kind.rights.prepare],
    what: `prepare ${kind.many}`,
    company: (i) => (i as unknown as Written).company,
    schema: kind.schema,
    run: async (context, input): Promise<Result<K>> => {
      const content = input as unknown as C;
      const prepared = await kind.prepare(context, content, NEW);
      return prepared.ok ? ok(await kind.check(context, content, prepared.value)) : prepared;
    },
  });
}

/** Posts what is kept, as it is. */
export function definePostKept<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<R> {
  return defineUseCase({
    name,
    kind: "write",
    rights: [kind.rights.post],
    what: kind.posting,
    of: "checked",
    ...(kind.reachesLedger ? { locks: ({ tx }, input) => companiesOf(tx, [input.id]) } : {}),
    schema: object({ id: number().integer().required() }),
    run: async (context, { id }): Promise<Result<R>> => {
      const stored = await guard(kind, context, id, AS_KEPT, "post");
      if (!stored.ok) return stored;
      const { content } = stored.value;
      return kind.post(context, content, { id, stored: stored.value, asKept: true });
    },
  });
}

const NEW = { id: undefined, stored: null, input: {} };
type AnyKind<C extends Written, S extends Kept<C>, P, K extends object> = KeptKind<
  C,
  S,
  P,
  K,
  unknown
>;

/**
 * What stands before every act on a kept document: it is there, the person has the right where it
 * belongs, it does not wait for approval, and the copy that is sent is not older than what is kept.
 */
async function guard<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: Pick<AnyKind<C, S, P, K>, "read" | "missing" | "refuses" | "one" | "many" | "rights">,
  context: Context,
  id: number,
  sent: SentCopy & { content?: C },
  act: "write" | "submit" | "post" | "remove",
): Promise<Result<S>> {
  const stored = await kind.read(context, id);
  if (!stored)
    return fail(
      (await kind.missing?.(context, id)) ?? {
        code: "NOT_FOUND",
        what: `such ${kind.one}; it may have been deleted`,
      },
    );
  const right = act === "post" ? kind.rights.post : kind.rights.prepare;
  if (!context.may(right, stored.company))
    return fail({ code: "FORBIDDEN", what: `work on ${kind.many} of ${stored.company}` });
  if (stored.status === "waiting")
    return fail({
      code: "IN_USE",
      what: `The ${kind.one} waits for approval and stays as it was sent. Withdraw it to change it`,
    });
  const refused = kind.refuses?.(stored, act);
  if (refused) return fail(refused);
  return guardKept(context, stored, sent, right, `work on ${kind.many}`);
}

/**
 * Keeps what was typed, whatever is wrong with it, and says what is. A copy older than what is kept
 * is refused, not merged; what is written over stays in the history.
 */
async function saveOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  input: SentCopy & { id?: number; content: C },
): Promise<Result<Saved<K>>> {
  const { id, content } = input;
  let stored: S | null = null;
  if (id !== undefined) {
    const guarded = await guard(kind, context, id, input, "write");
    if (!guarded.ok) return guarded;
    stored = guarded.value;
  }
  const about = { id, stored, input: input as unknown as About<S>["input"] };
  const prepared = await kind.prepare(context, content, about);
  if (!prepared.ok) return prepared;
  if (id !== undefined && stored)
    await noteOverwriting(context, { id, kind: stored.kind ?? kind.kinds[0]! }, stored, input);
  const kept = await kind.keep(context, content, prepared.value, about);
  return ok({
    ...(await kind.check(context, content, prepared.value)),
    ...kept,
    savedAt: context.now.toISOString(),
  });
}

/** Sends one to whoever approves it: what is sent is what is seen, checked in full. */
async function submitOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  input: Sent<C>,
): Promise<Result<{ id: number; number: string }>> {
  const { id, content } = input;
  const stored = await guard(kind, context, id, input, "submit");
  if (!stored.ok) return stored;
  const about = { id, stored: stored.value, input: input as unknown as About<S>["input"] };
  const prepared = await kind.prepare(context, content, about);
  if (!prepared.ok) return prepared;
  // Whether the person may post it is what the one who approves answers for.
  const [first, ...others] = kind.problems(prepared.value).filter((p) => p.code !== "FORBIDDEN");
  if (first) return fail(first, ...others);
  const rule = await kind.rule(context, content, prepared.value);
  if (!rule)
    return fail({
      code: "INVALID",
      what: `No rule asks for the approval of this ${kind.one}; ${kind.posting.split(" ")[0]} it`,
    });
  const kept = await kind.keep(context, content, prepared.value, about);
  await askApproval(context, id, { ...rule, version: kept.version });
  return ok({ id, number: "" });
}

async function removeOne<C extends Written, S extends Kept<C>, P, K extends object>(
  kind: AnyKind<C, S, P, K>,
  context: Context,
  id: number,
): Promise<Result<object>> {
  const found = await guard(kind, context, id, AS_KEPT, "remove");
  if (!found.ok) return found;
  const { company, content } = found.value;
  const [document] = await rows<{ kind: string }>(
    context.tx,
    sql`delete from document where id = ${id} returning kind`,
  );
  await context.audit({
    action: "draft deleted",
    kind: document?.kind ?? kind.kinds[0]!,
    recordId: id,
    label: kind.label(content).slice(0, 80),
    companyId: context.masters.companyByCode.get(company)?.id ?? null,
    before: content,
  });
  return ok({});
}
