import { array, boolean, object, string } from "yup";
import { fail, isCalendarDate, ok, tableRow, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { saveDimensionValue } from "./dimensions";

/**
 * Takes the values of a dimension in from a file, parents before what lies below them: all of them
 * or none. Without `take` it only says what would happen.
 */
export const loadDimensionValues = defineUseCase({
  name: "loadDimensionValues",
  kind: "write",
  rights: ["setup.organisation"],
  what: "load dimension values",
  of: "group",
  schema: object({
    dimension: string().required(),
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const { masters } = context;
    const dimension = masters.dimensionByCode.get(input.dimension);
    if (!dimension)
      return fail({ code: "DIMENSION_UNKNOWN", dimension: input.dimension, field: "dimension" });
    const problems: Found[] = [];
    const counts = { added: 0, changed: 0, same: 0 };
    const known = new Set(
      masters.dimensionValues.filter((v) => v.dimensionId === dimension.id).map((v) => v.code),
    );
    const seen = new Map<string, number>();
    const values: Record<string, unknown>[] = [];
    input.rows.forEach((row, i) => {
      const bad = (what: string, field: string) =>
        problems.push({ code: "INVALID", what: `Row ${i + 2}: ${what}`, field });
      const code = row.code ?? "";
      if (!/^[A-Z0-9][A-Z0-9-]{0,19}$/.test(code))
        return void bad(
          `“${code.slice(0, 30)}” is no code; use capitals, figures and dashes`,
          "code",
        );
      if (seen.has(code)) bad(`${code} stands in row ${seen.get(code)} already`, "code");
      if (!row.name) bad("the name is missing", "name");
      if (row.parent && !known.has(row.parent) && !seen.has(row.parent))
        bad(`there is no ${row.parent.slice(0, 20)} above this row`, "parent");
      for (const key of ["from", "to"] as const)
        if (row[key] && !isCalendarDate(row[key]))
          bad(`“${row[key].slice(0, 30)}” is no date; write 2026-10-31`, key);
      seen.set(code, i + 2);
      const before = masters.value(dimension.id, code);
      const parent = row.parent || null;
      const blocked = /^(yes|true|1|x)$/i.test(row.blocked ?? "");
      const now = {
        name: row.name ?? "",
        parent,
        activeFrom: row.from || null,
        activeTo: row.to || null,
        blocked,
      };
      const was = before && {
        name: before.name,
        parent: before.parentId === null ? null : masters.valueById.get(before.parentId)!.code,
        activeFrom: before.activeFrom,
        activeTo: before.activeTo,
        blocked: before.blocked,
      };
      if (was && JSON.stringify(was) === JSON.stringify(now)) counts.same++;
      else {
        counts[before ? "changed" : "added"]++;
        values.push({ dimension: dimension.code, code, ...now, proposes: before?.proposes ?? {} });
      }
    });
    if (problems.length > 0) return fail(...problems);
    if (input.take)
      for (const value of values) {
        const saved = await saveDimensionValue.definition.run(context, value);
        if (!saved.ok) return saved;
      }
    return ok(counts);
  },
});
