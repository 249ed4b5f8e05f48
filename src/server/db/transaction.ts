import type { Problem, Result } from "@/core/shared";
import { fail } from "@/core/shared";
import type { Db } from "./database";

/** Thrown to leave a transaction with problems: everything written in it is undone. */
class Refused extends Error {
  constructor(readonly result: { ok: false; problems: readonly Problem[] }) {
    super("refused");
  }
}

/**
 * Runs a use case in one transaction. A result with problems rolls everything back, so that nothing
 * is ever half done.
 * Deadlocks and serialisation failures of a server are tried again a few times; guards of the
 * database become a sentence.
 */
export async function inTransaction<T>(
  db: Db,
  work: (tx: Db) => Promise<Result<T>>,
  isolation?: "repeatable read",
): Promise<Result<T>> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await db.transaction(
        async (tx) => {
          const result = await work(tx as unknown as Db);
          if (!result.ok) throw new Refused(result);
          return result;
        },
        isolation ? { isolationLevel: isolation } : undefined,
      );
    } catch (error) {
      if (error instanceof Refused) return error.result;
      const cause = postgresError(error);
      if (attempt < 5 && cause && (cause.code === "40P01" || cause.code === "40001")) continue;
      if (cause?.code === "53100" || /no space left|ENOSPC/i.test(String(cause?.message ?? error)))
        return fail({
          code: "UNAVAILABLE",
          what: "The disk is full; nothing was saved. Make room and try again",
        });
      if (
        cause?.code === "25006" ||
        /EROFS|read-only file system/i.test(String(cause?.message ?? error))
      )
        return fail({
          code: "UNAVAILABLE",
          what: "The data folder is read-only; nothing was saved",
        });
      if (cause?.code?.startsWith("YA"))
        return fail({
          code: "UNAVAILABLE",
          what: `Refused by the ledger's guard: ${cause.message.replace(/^ledger guard: /, "")}`,
        });
      throw error;
    }
  }
}

/** Whether something was refused because it is there already. */
export const isDuplicate = (error: unknown): boolean => postgresError(error)?.code === "23505";

function postgresError(error: unknown): { code: string; message: string } | null {
  for (
    let e = error as { code?: unknown; message?: string; cause?: unknown } | undefined;
    e;
    e = e.cause as typeof e
  )
    if (typeof e.code === "string" && /^[0-9A-Z]{5}$/.test(e.code))
      return { code: e.code, message: e.message ?? "" };
  return null;
}
