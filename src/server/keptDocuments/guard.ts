import { fail, type Result } from "@/core/shared";
import type { Context } from "../access";
import { guardKept, type SentCopy } from "../documents";
import type { AnyKind, Kept, Written } from "./kind";

/**
 * What stands before every act on a kept document: it is there, the person has the right where it
 * belongs, it does not wait for approval, and the copy that is sent is not older than what is kept.
 */
export async function guard<C extends Written, S extends Kept<C>, P, K extends object>(
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
