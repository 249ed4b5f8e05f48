import { object, string } from "yup";
import {
  reminderProcedureSchema,
  usualReminders,
  type ReminderProcedure,
} from "@/core/receivables";
import { ok } from "@/core/shared";
import { defineUseCase } from "../../access";
import { groupRules, type GroupRule } from "../../partners";

/** How customers are reminded, by their group. */
export const REMINDERS = groupRules<ReminderProcedure>({
  column: "reminders",
  kind: "reminder levels",
  others: "reminders.others",
  cast: (kept) => reminderProcedureSchema.cast(kept),
  usual: usualReminders,
});
export type GroupReminders = GroupRule<ReminderProcedure>;

export const reminderProcedures = defineUseCase({
  name: "reminderProcedures",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see reminder levels",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await REMINDERS.all(tx)),
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
  run: (context, { code, procedure }) => REMINDERS.save(context, code, procedure),
});
