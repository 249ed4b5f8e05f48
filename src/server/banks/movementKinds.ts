import { sql } from "drizzle-orm";
import { object } from "yup";
import { movementKindSchema, type MovementSide } from "@/core/banks";
import { writtenCodingProblems } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, rows } from "../db";

export interface MovementKind {
  code: string;
  name: string;
  group: string;
  side: MovementSide;
  codes: string[];
  words: string[];
  account: string;
  dimensions: Record<string, string>;
  version: number;
}

/** The kinds of bank movement, shared by all companies. */
export const listMovementKinds = defineUseCase({
  name: "listMovementKinds",
  kind: "read",
  rights: ["read.banks", "read.setup"],
  what: "see kinds of bank movement",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<MovementKind[]>> =>
    ok(
      await rows<MovementKind>(
        tx,
        sql`select code, name, "group", side, to_jsonb(codes) as codes, to_jsonb(words) as words,
          account, dimensions, version from movement_kind order by "group", code`,
      ),
    ),
});

export const saveMovementKind = defineUseCase({
  name: "saveMovementKind",
  kind: "write",
  rights: ["setup.rules"],
  what: "change kinds of bank movement",
  of: "group",
  schema: movementKindSchema,
  run: async ({ tx, masters, audit }, input): Promise<Result<{ code: string }>> => {
    const [fault, ...more] = input.account ? writtenCodingProblems(masters, input) : [];
    if (fault) return fail(fault, ...more);
    const [before] = await rows<MovementKind & { id: number }>(
      tx,
      sql`select id, code, name, "group", side, to_jsonb(codes) as codes, to_jsonb(words) as words,
        account, dimensions, version from movement_kind where code = ${input.code} for update`,
    );
    if (before && input.version === undefined)
      return fail({ code: "EXISTS", what: `Kind ${input.code}`, field: "code" });
    if (before && input.version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const values = sql`${input.name}, ${input.group}, ${input.side},
      ${arrayOf(input.codes)}::text[], ${arrayOf(input.words)}::text[], ${input.account},
      ${JSON.stringify(input.dimensions)}::jsonb`;
    const columns = sql`name, "group", side, codes, words, account, dimensions`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update movement_kind set (${columns}) = (${values}), version = version + 1
            where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into movement_kind (code, ${columns}) values (${input.code}, ${values})
            returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "kind of bank movement",
      recordId: saved!.id,
      label: input.code,
      companyId: null,
      before,
      after: input,
    });
    return ok({ code: input.code });
  },
});
