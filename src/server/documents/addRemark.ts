import { number, object } from "yup";
import type { Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { findDocument, SEE } from "./papers";
import { keepRemark, remarkText } from "./remarks";

/** Says something about a document. */
export const addRemark = defineUseCase({
  name: "addRemark",
  kind: "write",
  rights: SEE,
  what: "comment on documents",
  of: "checked",
  schema: object({ id: number().integer().required(), text: remarkText() }),
  run: async (context, input): Promise<Result<{ id: number; called: string[] }>> => {
    const found = await findDocument(context, input.id);
    if (!found.ok) return found;
    const kept = await keepRemark(context, { document: input.id }, input.text);
    if (!kept.ok) return kept;
    await context.audit({
      action: "commented",
      kind: found.value.kind,
      recordId: input.id,
      label: found.value.title,
    });
    return kept;
  },
});
