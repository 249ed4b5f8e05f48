import { boolean, number, object, string } from "yup";
import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { readSetting, writeSetting, type Db } from "../db";
import { readBankAccount } from "./bankAccounts";
import { whatIsOpen } from "./whatIsOpen";

const SETTING = "banks.secondPerson";

/** Whether a second person has to agree before a new or changed account is used, or one is closed. */
export const wantsSecondPerson = async (tx: Db): Promise<boolean> =>
  (await readSetting<boolean>(tx, SETTING)) ?? true;

/** Whether bank accounts want a second person. */
export const accountControl = defineUseCase({
  name: "accountControl",
  kind: "read",
  rights: ["read.banks", "read.payables", "read.setup"],
  what: "see bank accounts",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<{ secondPerson: boolean }>> =>
    ok({ secondPerson: await wantsSecondPerson(tx) }),
});

/** Says whether bank accounts want a second person; what waits already goes on waiting. */
export const saveAccountControl = defineUseCase({
  name: "saveAccountControl",
  kind: "write",
  rights: ["setup.rules"],
  what: "say whether bank accounts want a second person",
  of: "group",
  schema: object({ secondPerson: boolean().required() }),
  run: async ({ tx, audit }, { secondPerson }): Promise<Result<unknown>> => {
    const before = await wantsSecondPerson(tx);
    await writeSetting(tx, SETTING, secondPerson);
    await audit({
      action: "changed",
      kind: "bank account",
      recordId: SETTING,
      label: "second person",
      before: { secondPerson: before },
      after: { secondPerson },
    });
    return ok({});
  },
});

/**
 * A second person looks at what waits of a bank account: agrees to it, or refuses that it is closed.
 * What is new or changed and not agreed to stays out of use until it is put right.
 */
export const agreeToAccount = defineUseCase({
  name: "agreeToAccount",
  kind: "write",
  rights: ["prepare.banks", "setup.rules"],
  what: "agree to bank accounts",
  of: "checked",
  schema: object({
    code: string().required(),
    version: number().integer().required(),
    agree: boolean().default(true),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, person, may, audit } = context;
    const account = await readBankAccount(tx, { code: input.code }, true);
    if (!account) return fail({ code: "NOT_FOUND", what: `bank account ${input.code}` });
    if (!may("prepare.banks", account.company) && !may("setup.rules", account.company))
      return fail({ code: "FORBIDDEN", what: `agree to bank accounts of ${account.company}` });
    if (account.version !== input.version)
      return fail({ code: "STALE", by: account.askedByName || "Somebody else", at: "" });
    if (account.waits === "")
      return fail({ code: "INVALID", what: `Nothing of ${account.code} waits for anybody` });
    if (account.askedBy.includes(person.id))
      return fail({
        code: "INVALID",
        what: "You have changed it yourself; somebody else agrees",
      });
    if (!input.agree && account.waits !== "closing")
      return fail({
        code: "INVALID",
        what: "It stays out of use as long as nobody agrees; what is wrong is put right in the form",
      });
    const closes = account.waits === "closing" && input.agree;
    const open = closes ? await whatIsOpen(context, account) : null;
    if (open) return fail({ code: "IN_USE", what: open });
    await tx.execute(
      sql`update bank_account set waits = '', asked_by = '{}',
        closed_on = ${closes ? account.closesOn : account.closedOn}::date, closes_on = null,
        version = version + 1 where id = ${account.id}`,
    );
    await audit({
      action: input.agree ? "agreed" : "refused",
      kind: "bank account",
      recordId: account.id,
      label: account.code,
      companyId: account.companyId,
      before: { waits: account.waits, askedBy: account.askedByName },
    });
    return ok({ id: account.id });
  },
});
