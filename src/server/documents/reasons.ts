import { sql } from "drizzle-orm";
import { object } from "yup";
import { reasonSchema, type ReasonPlace } from "@/core/documents";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, rows } from "../db";

export interface Reason {
  id: number;
  text: string;
  places: ReasonPlace[];
  blocked: boolean;
  version: number;
}

const COLUMNS = sql`id, text, to_jsonb(places) as places, blocked, version`;

/** The reasons that are offered where something is taken back. */
export const listReasons = defineUseCase({
  name: "listReasons",
  kind: "read",
  rights: "signed-in",
  what: "see reasons",
  of: "self",
  schema: object(),
  run: async ({ tx }): Promise<Result<Reason[]>> =>
    ok(await rows<Reason>(tx, sql`select ${COLUMNS} from reason order by text`)),
});

export const saveReason = defineUseCase({
  name: "saveReason",
  kind: "write",
  rights: ["setup.rules"],
  what: "change reasons",
  of: "group",
  schema: reasonSchema,
  run: async ({ tx, audit }, input): Promise<Result<{ id: number }>> => {
    const [before] = await rows<Reason>(
      tx,
      sql`select ${COLUMNS} from reason where id = ${input.id ?? 0}::bigint for update`,
    );
    if (input.id !== undefined && !before) return fail({ code: "NOT_FOUND", what: "such reason" });
    if (before && input.version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const [same] = await rows<{ id: number }>(
      tx,
      sql`select id from reason where lower(text) = lower(${input.text})
        and id <> ${before?.id ?? 0}`,
    );
    if (same) return fail({ code: "EXISTS", what: `The reason “${input.text}”`, field: "text" });
    const places = sql`${arrayOf(input.places)}::text[]`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update reason set text = ${input.text}, places = ${places}, blocked = ${input.blocked},
            version = version + 1 where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into reason (text, places, blocked)
            values (${input.text}, ${places}, ${input.blocked}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "reason",
      recordId: saved!.id,
      label: input.text,
      companyId: null,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
