import { sql } from "drizzle-orm";
import { object, string, type InferType } from "yup";
import {
  REASON_PLACES,
  REASON_RULES,
  reasonIsEnough,
  type ReasonPlace,
  type ReasonRule,
} from "@/core/documents";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { readSetting, rows, writeSetting, type Db } from "../db";

const SETTING = "reasons.rules";

export type ReasonRules = Record<ReasonPlace, ReasonRule>;
const PLACES = Object.keys(REASON_PLACES) as ReasonPlace[];

async function readRules(tx: Db): Promise<ReasonRules> {
  const set = await readSetting<Partial<ReasonRules>>(tx, SETTING);
  return Object.fromEntries(PLACES.map((place) => [place, set?.[place] ?? "any"])) as ReasonRules;
}

/**
 * What stands against a reason where something is taken back; null where it is enough. By the rule of
 * its place: any words, one of those that are offered there, or none.
 */
export async function againstReason(
  { tx }: Pick<Context, "tx">,
  place: ReasonPlace,
  text: string,
  field = "reason",
): Promise<Found | null> {
  const rule = (await readRules(tx))[place];
  const offered =
    rule === "listed"
      ? await rows<{ text: string }>(
          tx,
          sql`select text from reason where not blocked and ${place} = any(places)`,
        )
      : [];
  const words = offered.map((o) => o.text);
  if (reasonIsEnough(rule, text, words)) return null;
  return rule === "listed"
    ? { code: "INVALID", what: `The reason has to be one of the list: ${words.join("; ")}`, field }
    : { code: "REASON_REQUIRED", field };
}

/** Where a reason is wanted, and of what sort. */
export const reasonRules = defineUseCase({
  name: "reasonRules",
  kind: "read",
  rights: "signed-in",
  what: "see reasons",
  of: "self",
  schema: object(),
  run: async ({ tx }): Promise<Result<ReasonRules>> => ok(await readRules(tx)),
});

const rule = () => string().oneOf(REASON_RULES).default("any");
const schema = object(
  Object.fromEntries(PLACES.map((place) => [place, rule()])) as Record<
    ReasonPlace,
    ReturnType<typeof rule>
  >,
);

/** Says where a reason is wanted. What is written off without money always wants one. */
export const saveReasonRules = defineUseCase({
  name: "saveReasonRules",
  kind: "write",
  rights: ["setup.rules"],
  what: "say where reasons are wanted",
  of: "group",
  schema,
  run: async ({ tx, audit }, input: InferType<typeof schema>): Promise<Result<object>> => {
    if (input.writeOffs === "optional")
      return fail({
        code: "INVALID",
        what: "What is written off always wants a reason",
        field: "writeOffs",
      });
    const before = await readRules(tx);
    await writeSetting(tx, SETTING, input);
    await audit({
      action: "changed",
      kind: "reason",
      recordId: SETTING,
      label: "where reasons are wanted",
      companyId: null,
      before,
      after: input,
    });
    return ok({});
  },
});
