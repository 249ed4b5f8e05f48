import { may, mayEverywhere } from "@/core/access";
import type { Result } from "@/core/shared";
import { inTransaction } from "../db";
import { loadMasters } from "../organisation/masters";
import { writeAudit, type Caller, type Context } from "./useCase";

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
    const { masters, today } = await loadMasters(tx);
    const now = caller.now?.() ?? new Date();
    return work({
      tx,
      person,
      masters,
      today: today ?? now.toISOString().slice(0, 10),
      now,
      may: (right, company) => may(person.grants, right, company),
      mayEverywhere: (right) =>
        mayEverywhere(
          person.grants,
          right,
          masters.companies.map((c) => c.code),
        ),
      audit: (record) => writeAudit(tx, person.id, now, record),
    });
  });
