import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  reminderProcedureSchema,
  usualReminders,
  type ReminderProcedure,
} from "@/core/receivables";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { readSetting, rows, writeSetting, type Db } from "../../db";

/** How customers of a group are reminded; the group "" is everybody else. */
export interface GroupReminders {
  code: string;
  name: string;
  procedure: ReminderProcedure;
  /** Whether it was set, and is not just what is usual. */
  own: boolean;
}

const OTHERS = "reminders.others";

export async function readReminders(tx: Db): Promise<GroupReminders[]> {
  const found = await rows<{ code: string; name: string; reminders: ReminderProcedure | null }>(
    tx,
    sql`select code, name, reminders from customer_group order by code`,
  );
  const others = await readSetting<ReminderProcedure>(tx, OTHERS);
  return [{ code: "", name: "All other customers", reminders: others ?? null }, ...found].map(
    ({ code, name, reminders }) => ({
      code,
      name,
      own: reminders !== null,
      procedure: reminders ? reminderProcedureSchema.cast(reminders) : usualReminders(),
    }),
  );
}

/** The procedure that holds for a group; for one that has none, that of everybody else. */
export async function remindersByGroup(tx: Db): Promise<(group: string) => ReminderProcedure> {
  const all = await readReminders(tx);
  const byCode = new Map(all.filter((g) => g.own).map((g) => [g.code, g.procedure]));
  const others = all[0]!.procedure;
  return (group) => byCode.get(group) ?? others;
}

export const reminderProcedures = defineUseCase({
  name: "reminderProcedures",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see reminder levels",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await readReminders(tx)),
});

/** How a group is reminded from now on; `procedure` null: as everybody else. */
export const saveReminders = defineUseCase({
  name: "saveReminders",
  kind: "write",
  rights: ["setup.rules"],
  what: "set up reminder levels",
  of: "group",
  schema: object({
    code: string().trim().uppercase().max(20).default(""),
    procedure: reminderProcedureSchema.nullable().default(null),
  }),
  run: async ({ tx, audit }, { code, procedure }): Promise<Result<object>> => {
    const before = (await readReminders(tx)).find((g) => g.code === code);
    if (!before) return fail({ code: "NOT_FOUND", what: `group of customers ${code}` });
    if (code === "") await writeSetting(tx, OTHERS, procedure);
    else
      await tx.execute(
        sql`update customer_group set version = version + 1,
          reminders = ${procedure ? JSON.stringify(procedure) : null}::jsonb where code = ${code}`,
      );
    await audit({
      action: "changed",
      kind: "reminder levels",
      recordId: code || "others",
      label: before.name,
      before: before.procedure,
      after: procedure,
    });
    return ok({});
  },
});
