import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, ok } from "@/core/shared";
import { defineUseCase } from "../access";
import { isDrawable } from "../letters";
import { readBankAccount } from "./bankAccounts";

/** Largest picture of a signature that is taken, in bytes. */
const MOST = 200_000;

/** The picture of the signature that its cheques carry: PNG. */
export const saveSignature = defineUseCase({
  name: "saveSignature",
  kind: "write",
  rights: ["setup.rules"],
  what: "change signatures",
  of: "checked",
  schema: object({
    code: string().required(),
    picture: string()
      .required("A picture is needed")
      .max(MOST * 2),
  }),
  run: async ({ tx, audit, may }, input) => {
    const account = await readBankAccount(tx, { code: input.code }, true);
    if (!account) return fail({ code: "NOT_FOUND", what: `bank account ${input.code}` });
    if (!may("setup.rules", account.company))
      return fail({ code: "FORBIDDEN", what: `change signatures of ${account.companyName}` });
    const bytes = Buffer.from(input.picture, "base64");
    if (
      bytes.length > MOST ||
      !bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))
    )
      return fail({
        code: "INVALID",
        what: "A signature is a PNG picture of at most 200 kB",
        field: "picture",
      });
    if (!(await isDrawable(input.picture)))
      return fail({
        code: "INVALID",
        what: "The picture is damaged and can't be drawn",
        field: "picture",
      });
    await tx.execute(
      sql`update bank_account set signature = ${bytes.toString("base64")} where id = ${account.id}`,
    );
    await audit({
      action: "signature changed",
      kind: "bank account",
      recordId: account.id,
      label: account.code,
      companyId: account.companyId,
    });
    return ok({});
  },
});
