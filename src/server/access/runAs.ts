import type { Result } from "@/core/shared";
import { inTransaction } from "../db";
import { contextOf, type Caller, type Context } from "./useCase";

/**
 * Runs work of the system's own (the demo's scenario, benchmarks, tests) as a person, in one
 * transaction. Screens and interfaces use use cases.
 */
export const runAs = <T>(
  caller: Caller,
  work: (context: Context) => Promise<Result<T>>,
): Promise<Result<T>> =>
  inTransaction(caller.database.db, async (tx) => {
    const person = caller.person;
    if (!person) throw new Error("runAs needs a person");
    return work(await contextOf(tx, caller, person));
  });
