import { object } from "yup";
import { ok } from "@/core/shared";
import { defineUseCase } from "../access";
import { verify } from "../verify";

/** The whole verification, for controllers and auditors. */
export const verifyBooks = defineUseCase({
  name: "verifyBooks",
  kind: "read",
  rights: ["read.history"],
  what: "verify the books",
  of: "group",
  schema: object(),
  run: async ({ tx, now }) => ok({ at: now.toISOString(), checks: await verify(tx) }),
});
