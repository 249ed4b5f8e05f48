import { number, object, string } from "yup";
import { fail, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { attach } from "./papers";
import { findSaid } from "./saidFiles";

/**
 * Adds a file to what one has said with a customer: a mail that came, a picture of a letter. Errors:
 * INVALID where it is too large or not of a kind that is taken, FORBIDDEN where another person said it.
 */
export const addSaidFile = defineUseCase({
  name: "addSaidFile",
  kind: "write",
  rights: ["read.receivables"],
  what: "add files to what was said with customers",
  of: "checked",
  schema: object({
    remark: number().integer().required(),
    name: string().required().max(300),
    content: string().required(),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await findSaid(context, input.remark);
    if (!found.ok) return found;
    const { id, by, partner } = found.value;
    if (by !== context.person.id)
      return fail({ code: "FORBIDDEN", what: "add a file to what somebody else said" });
    return attach(
      context,
      { remark: id, partner },
      input.name,
      Buffer.from(input.content, "base64"),
    );
  },
});
