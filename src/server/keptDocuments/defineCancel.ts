import { number, object, string } from "yup";
import type { Right } from "@/core/access";
import type { DocumentKind, DocumentStatus } from "@/core/documents";
import { fail, ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context, type UseCase } from "../access";
import { againstReason, setStatus } from "../documents";

/** How posted documents of a kind are taken back. */
interface Cancelling<S extends { company: string; status: string }, O extends object> {
  kind: DocumentKind;
  /** “cancel invoices”. */
  what: string;
  right: Right;
  /** What the history says was done, and how the document stands from then on. */
  action: string;
  to: DocumentStatus;
  /** The one that is kept, locked; undefined where there is none. */
  read(context: Context, id: number): Promise<S | undefined>;
  /** How the history names it. */
  label(stored: S): string;
  /** Takes back what posting it did. */
  takeBack(context: Context, id: number, stored: S): Promise<Result<O>>;
}

/**
 * Makes the use case that takes back what is posted: by whoever may, with a reason that stays in
 * the history, once. What it did is undone by journals of its own; its number stays.
 */
export function defineCancel<S extends { company: string; status: string }, O extends object>(
  name: string,
  how: Cancelling<S, O>,
): UseCase<O> {
  return defineUseCase({
    name,
    kind: "write",
    rights: [how.right],
    what: how.what,
    of: "checked",
    locks: ({ tx }, input) => companiesOf(tx, [input.id]),
    schema: object({
      id: number().integer().required(),
      reason: string().trim().default("").max(500),
    }),
    run: async (context, { id, reason }): Promise<Result<O>> => {
      const stored = await how.read(context, id);
      if (!stored) return fail({ code: "NOT_FOUND", what: `such ${how.kind.replace("-", " ")}` });
      if (!context.may(how.right, stored.company))
        return fail({ code: "FORBIDDEN", what: `${how.what} of ${stored.company}` });
      if (stored.status !== "posted") return fail({ code: "RUN_STATE", state: stored.status });
      const unsaid = await againstReason(context, "invoices", reason);
      if (unsaid) return fail(unsaid);
      const undone = await how.takeBack(context, id, stored);
      if (!undone.ok) return undone;
      await setStatus(context.tx, [id], how.to);
      await context.audit({
        action: how.action,
        kind: how.kind,
        recordId: id,
        label: how.label(stored),
        companyId: context.masters.companyByCode.get(stored.company)!.id,
        after: { reason, ...undone.value },
      });
      return ok(undone.value);
    },
  });
}
