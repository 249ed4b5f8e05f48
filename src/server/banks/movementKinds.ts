import { sql } from "drizzle-orm";
import { object } from "yup";
import { movementKindSchema, type MovementSide } from "@/core/banks";
import { writtenCodingProblems } from "@/core/ledger";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, rows, type Db } from "../db";
import { readTaxCodes } from "../taxes";

export interface MovementKind {
  code: string;
  name: string;
  group: string;
  side: MovementSide;
  codes: string[];
  words: string[];
  account: string;
  dimensions: Record<string, string>;
  taxCode: string;
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
          account, dimensions, tax_code as "taxCode", version
          from movement_kind order by "group", code`,
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
    const untaxed = input.taxCode === "" ? null : await againstTax(tx, input);
    if (untaxed) return fail(untaxed);
    const [before] = await rows<MovementKind & { id: number }>(
      tx,
      sql`select id, code, name, "group", side, to_jsonb(codes) as codes, to_jsonb(words) as words,
        account, dimensions, tax_code as "taxCode", version
          from movement_kind where code = ${input.code} for update`,
    );
    if (before && input.version === undefined)
      return fail({ code: "EXISTS", what: `Kind ${input.code}`, field: "code" });
    if (before && input.version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const values = sql`${input.name}, ${input.group}, ${input.side},
      ${arrayOf(input.codes)}::text[], ${arrayOf(input.words)}::text[], ${input.account},
      ${JSON.stringify(input.dimensions)}::jsonb, ${input.taxCode}`;
    const columns = sql`name, "group", side, codes, words, account, dimensions, tax_code`;
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

/** What stands against the tax of a kind: a code that there is not, or that no amount has in it. */
async function againstTax(
  tx: Db,
  input: { account: string; taxCode: string },
): Promise<Found | null> {
  const field = "taxCode";
  const code = (await readTaxCodes(tx)).find((t) => t.code === input.taxCode && !t.blocked);
  if (!code) return { code: "TAX_UNKNOWN", tax: input.taxCode, field };
  if (input.account === "")
    return { code: "INVALID", what: "A tax goes with an account: give it one", field };
  return code.kind === "withheld"
    ? { code: "INVALID", what: `${code.code} is kept back; no amount has it in it`, field }
    : null;
}
