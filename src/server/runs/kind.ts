import { type AnySchema, type InferType } from "yup";
import type { Right } from "@/core/access";
import type { Proposal, RunKindId, RunOverrides } from "@/core/runs";
import type { Result } from "@/core/shared";
import type { Context } from "../access";
import type { PostedJournal } from "../ledger";

/** What a run proposes, with where it belongs. */
export type Proposed = Proposal & { company: string; yearId: number; date: string };

/**
 * A kind of run: what it needs, what it proposes, and what posting and reversing it mean beyond the
 * journals.
 */
export interface RunKind<S extends AnySchema = AnySchema> {
  id: RunKindId;
  right: Right;
  schema: S;
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
  /** Says what stands in the way of undoing it, and takes back what `posted` did. */
  reversing?(
    context: Context,
    run: { id: number; params: InferType<S>; dayOf: (journal: number) => string },
  ): Promise<Result<unknown>>;
  /** What undoing means once its journals are reversed, by the first of them. */
  reversed?(
    context: Context,
    run: {
      id: number;
      params: InferType<S>;
      reason: string;
      reversal: { id: number; date: string };
    },
  ): Promise<void>;
}

/** A kind of run, whatever it needs: what the list of all kinds holds. */
export const defineRunKind = <S extends AnySchema>(kind: RunKind<S>): RunKind =>
  kind as unknown as RunKind;

/**
 * The kind of that name. The list is fetched when it is needed, as its areas stand on this one.
 */
export async function runKind(id: string): Promise<RunKind | undefined> {
  const { RUN_KINDS } = await import("../kinds");
  return id in RUN_KINDS ? RUN_KINDS[id as RunKindId] : undefined;
}
