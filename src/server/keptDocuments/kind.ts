import type { ObjectSchema, ObjectShape } from "yup";
import type { Right } from "@/core/access";
import type { ApprovableKind } from "@/core/documents";
import type { Found, Result } from "@/core/shared";
import type { Context } from "../access";
import type { KeptVersion, RegisterEntry, SentCopy } from "../documents";

/** What every kept document says of itself. */
export interface Written {
  company: string;
}
/** A kept document with where it stands. */
export interface Kept<C> extends KeptVersion {
  content: C;
  status: string;
  /** Its kind in the register, where the kind of document has several. */
  kind?: ApprovableKind;
}
/** One that is to be kept: new, where it has no identity yet. */
export interface Paper<C, P> {
  id?: number;
  /** Where its kind of document has several in the register. */
  kind?: ApprovableKind;
  content: C;
  prepared: P;
}
/** Values of a column, one for each paper. */
export interface Column {
  type: "text" | "int" | "bigint";
  values: readonly (string | number | null)[];
}

/** What the register says of one, beside its kind and number. */
export type KeptEntry = Omit<RegisterEntry, "kind" | "number">;

/** How documents of a kind are kept: in the register, and in a table of their own. */
export interface KeptStore<C extends Written, P> {
  /** Its kinds in the register of documents; a new one is the first, where it does not say. */
  kinds: readonly [ApprovableKind, ...ApprovableKind[]];
  /** Has document_id, content, version, updated_by and updated_at. */
  table: string;
  /** How they stand in the register, in the same order. */
  register(context: Context, papers: readonly Paper<C, P>[]): Promise<KeptEntry[]>;
  /** Columns of the table besides, by their names. */
  columns?(papers: readonly Paper<C, P>[], entries: readonly KeptEntry[]): Record<string, Column>;
}

/**
 * A kind of document that people write, keep as it is typed, and post: journals, batches, invoices,
 * orders, requests. What is the same for all of them (rights by company, versions, who has written,
 * what is written over, waiting for approval, the register) is done by `defineKept` alone; what one
 * is called and which page shows it, `DOCUMENT_KINDS` says.
 *
 * C is what is written, S how it is kept, P what is made of it, K what is said of it, R what posting
 * gives.
 */
export interface KeptKind<
  C extends Written,
  S extends Kept<C>,
  P,
  K extends object,
  R,
> extends KeptStore<C, P> {
  /** “invoice” and “invoices”: how sentences speak of it. */
  one: string;
  many: string;
  rights: { prepare: Right; post: Right };
  /** What posting is called: “post invoices”, “place orders”. */
  posting: string;
  /** Whether posting reaches the ledger: then the chains of its companies are locked first. */
  reachesLedger: boolean;
  schema: ObjectSchema<C & object>;
  /** Fields that only a new one has, beside what is written. */
  more?: ObjectShape;
  /** Fields that come along when it is sent or posted: a reason. */
  deciding?: ObjectShape;
  /** The kept one, locked; undefined where there is none. */
  read(context: Context, id: number): Promise<S | undefined>;
  /** What is said where there is none; “may have been deleted”, where nothing else is. */
  missing?(context: Context, id: number): Promise<Found>;
  /** What stands against writing on it now, beside a wait for approval. */
  refuses?(stored: S, act: "write" | "submit" | "post" | "remove"): Found | null;
  /** What a program brings, with what follows from it: a person finds that in the form. */
  complete?(context: Context, content: C): Promise<C>;
  /** Reads and checks what is written. `stored` is null for a new one; `input` is all that came. */
  prepare(context: Context, content: C, about: About<S>): Promise<Result<P>>;
  /** What stands against posting it. */
  problems(prepared: P): readonly Found[];
  /**
   * Holds it back where something has to be decided on before anybody approves it; the sentence
   * that says so, or null.
   */
  holdBack?(context: Context, content: C, prepared: P, about: About<S>): Promise<string | null>;
  /** Who has to approve it, if anybody; or what stands against asking for that. */
  rule(
    context: Context,
    content: C,
    prepared: P,
    about: About<S>,
  ): Promise<Result<{ role: string; why: string } | null>>;
  /** What is done besides when a new one is kept. */
  added?(context: Context, id: number, input: About<S>["input"]): Promise<unknown>;
  /** What is done before one is deleted. */
  removing?(context: Context, id: number): Promise<unknown>;
  /** What is said of it while it is written. */
  check(context: Context, content: C, prepared: P): Promise<K>;
  /** Posts what is on the screen, or (`asKept`) what is kept. */
  post(context: Context, content: C, about: Posting<S>): Promise<Result<R>>;
  /** Posts one that a program brings without keeping it first; where it is not said, it is kept. */
  postNew?(context: Context, content: C): Promise<Result<R>>;
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
export interface Posting<S> {
  id: number;
  stored: S;
  asKept: boolean;
  /** It was kept a moment ago, in the same transaction. */
  justKept?: boolean;
  input: Readonly<Record<string, unknown>>;
}
export interface Identity {
  id: number;
  version: number;
}

/** What keeping one answers: its version, and what stands against it. */
export type Saved<K> = K & { id: number; version: number; savedAt: string };

/** A kind, whatever posting it gives. */
export type AnyKind<C extends Written, S extends Kept<C>, P, K extends object> = KeptKind<
  C,
  S,
  P,
  K,
  unknown
>;

/** The copy that somebody sends of a kept one. */
export interface Sent<C> extends SentCopy {
  id: number;
  content: C;
}
