import { type AnySchema, type InferType } from "yup";
import type { Right } from "@/core/access";
import type { Explanation, Proposal, RunHead, RunItem, RunKindId, RunOverrides } from "@/core/runs";
import type { JournalDraft } from "@/core/ledger";
import type { Result } from "@/core/shared";
import type { Context } from "../access";
import type { PostedJournal } from "../ledger";

/** Where a run belongs. */
export interface RunPlace {
  company: string;
  yearId: number;
  date: string;
  title: string;
}
/** What a run proposes, with where it belongs. */
export type Proposed = Proposal & RunPlace;

/** What every kind of run says of itself. */
interface KindOfRun<P> {
  id: RunKindId;
  right: Right;
  /**
   * Whether approval rules hold for what it posts: for each journal, or for all of them as one.
   * Kinds whose documents are approved before say no.
   */
  approved?: "by rules" | "as one";
  /**
   * The kind under whose name it takes its items, where several kinds take from the same ones; its
   * own where none is said.
   */
  takesAs?: RunKindId;
  /** Says what stands in the way of undoing it, and takes back what `posted` did. */
  reversing?(
    context: Context,
    run: { id: number; params: P; dayOf: (journal: number) => string },
  ): Promise<Result<unknown>>;
  /** What undoing means once its journals are reversed, by the first of them. */
  reversed?(
    context: Context,
    run: { id: number; params: P; reason: string; reversal: { id: number; date: string } },
  ): Promise<void>;
}

/** A kind of run whose proposal is computed at once. */
export interface RunAtOnce<S extends AnySchema = AnySchema> extends KindOfRun<InferType<S>> {
  schema: S;
  /**
   * Reads what the proposal rests on and computes it, with what a person has changed in the
   * preview; writes nothing. `run` is the run that is computed again.
   */
  propose(
    context: Context,
    params: InferType<S>,
    overrides: RunOverrides,
    run?: number,
  ): Promise<Result<Proposed>>;
  /**
   * What stands against changing a preview, with what it would become; or against discarding it
   * (null).
   */
  changing?(
    context: Context,
    run: { id: number; params: InferType<S>; next: Proposal | null },
  ): Promise<Result<unknown>>;
  /** What posting means beyond the journals, which come in the order of the proposal's drafts. */
  posted?(
    context: Context,
    run: {
      id: number;
      params: InferType<S>;
      proposal: Proposal;
      journals: readonly PostedJournal[];
      approved: boolean;
    },
  ): Promise<Result<unknown>>;
  parts?: undefined;
}

/** A kind of run of any size: its items are computed part by part, each in a transaction of its own. */
export interface RunInParts<S extends AnySchema = AnySchema> extends KindOfRun<InferType<S>> {
  schema: S;
  parts: PartsOf<InferType<S>>;
}

export interface PartsOf<P> {
  /** Where the run belongs, and how many things it has to look at. */
  begin(context: Context, params: P): Promise<Result<RunPlace & { size: number }>>;
  /**
   * A text that is another one as soon as anything has changed that the items rest on; found by one
   * statement.
   */
  stand(context: Context, params: P): Promise<string>;
  /**
   * The items of the part that begins behind a thing ("" at first), and behind which the next one
   * begins. The same data give the same items.
   */
  part(
    context: Context,
    params: P,
    overrides: RunOverrides,
    after: string,
  ): Promise<Result<{ items: RunItem[]; next: string | null }>>;
  /** How the figure of an item came about. */
  explain(context: Context, params: P, key: string, run: number): Promise<Explanation>;
  /** What comes of all items of the run (`run_item`), by sums of the database: few journals. */
  finish(
    context: Context,
    params: P,
    run: number,
  ): Promise<Result<RunHead & { drafts: JournalDraft[] }>>;
  /**
   * Writes what these items leave in the tables of their area, as rows of the run: they are hidden
   * until it is posted (its state says so).
   */
  write?(context: Context, run: number, items: { from: number; to: number }): Promise<void>;
  /** Takes away what was written, where the run does not come to be posted. */
  unwrite?(context: Context, run: number): Promise<void>;
  /** What posting means beyond that, with the journals in the order of the drafts. */
  posted?(
    context: Context,
    run: { id: number; params: P; journals: readonly PostedJournal[] },
  ): Promise<Result<unknown>>;
}

/** A kind of run: what it needs, what it proposes, and what posting and reversing it mean. */
export type RunKind<S extends AnySchema = AnySchema> = RunAtOnce<S> | RunInParts<S>;

/** A kind of run, whatever it needs: what the list of all kinds holds. */
export const defineRunKind = <S extends AnySchema>(kind: RunAtOnce<S>): RunKind =>
  kind as unknown as RunKind;
export const defineRunInParts = <S extends AnySchema>(kind: RunInParts<S>): RunKind =>
  kind as unknown as RunKind;

/**
 * The kind of that name. The list is fetched when it is needed, as its areas stand on this one.
 */
export async function runKind(id: string): Promise<RunKind | undefined> {
  const { RUN_KINDS } = await import("../kinds");
  return id in RUN_KINDS ? RUN_KINDS[id as RunKindId] : undefined;
}
