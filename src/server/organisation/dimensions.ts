import { dimensionSchema, dimensionValueSchema } from "@/core/organisation";
import { sql } from "drizzle-orm";
import { writtenAccountProblem } from "@/core/ledger";
import { fail, ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

export const saveDimension = defineUseCase({
  name: "saveDimension",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up dimensions",
  of: "group",
  schema: dimensionSchema,
  run: async ({ tx, masters, audit }, input) => {
    const before = masters.dimensionByCode.get(input.code);
    const balancing = input.balancing ?? before?.balancing ?? "no";
    const account =
      input.balancingAccount === undefined
        ? (before?.balancingAccount ?? null)
        : input.balancingAccount || null;
    if (balancing === "add" && !account)
      return fail({
        code: "REQUIRED",
        what: "The account between the values",
        field: "balancingAccount",
      });
    const fault = writtenAccountProblem(masters, account ?? "", { field: "balancingAccount" });
    if (fault) return fail(fault);
    const slot =
      before?.slot ??
      Array.from({ length: 16 }, (_, i) => i + 1).find(
        (s) => !masters.dimensions.some((d) => d.slot === s),
      );
    if (!slot)
      return fail({
        code: "INVALID",
        what: "Sixteen dimensions are in use, and there can be no more",
      });
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into dimension (slot, code, name, balancing, balancing_account)
        values (${slot}, ${input.code}, ${input.name}, ${balancing}, ${account})
        on conflict (code) do update set name = excluded.name, balancing = excluded.balancing,
        balancing_account = excluded.balancing_account returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "dimension",
      recordId: saved!.id,
      label: input.code,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

export const saveDimensionValue = defineUseCase({
  name: "saveDimensionValue",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up dimension values",
  of: "group",
  schema: dimensionValueSchema,
  run: async ({ tx, masters, audit }, input) => {
    const dimension = masters.dimensionByCode.get(input.dimension);
    if (!dimension)
      return fail({ code: "DIMENSION_UNKNOWN", dimension: input.dimension, field: "dimension" });
    const before = masters.value(dimension.id, input.code);
    const [parent] = input.parent
      ? await rows<{ id: number }>(
          tx,
          sql`select id from dimension_value where dimension_id = ${dimension.id} and code = ${input.parent}`,
        )
      : [];
    if (input.parent && !parent)
      return fail({
        code: "VALUE_UNKNOWN",
        dimension: dimension.name.toLowerCase(),
        value: input.parent,
        field: "parent",
      });
    if (before && parent && masters.branch(before.id).includes(parent.id))
      return fail({
        code: "INVALID",
        what: `${input.parent} lies below ${input.code}`,
        field: "parent",
      });
    for (const [dimensionCode, value] of Object.entries(input.proposes)) {
      const other = masters.dimensionByCode.get(dimensionCode);
      if (!other)
        return fail({ code: "DIMENSION_UNKNOWN", dimension: dimensionCode, field: "proposes" });
      if (!masters.value(other.id, value))
        return fail({
          code: "VALUE_UNKNOWN",
          dimension: other.name.toLowerCase(),
          value,
          field: `proposes.${dimensionCode}`,
        });
    }
    const [responsible] = input.responsible
      ? await rows<{ id: number }>(
          tx,
          sql`select id from person where login = ${input.responsible}`,
        )
      : [];
    if (input.responsible && !responsible)
      return fail({ code: "NOT_FOUND", what: `person ${input.responsible}`, field: "responsible" });
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into dimension_value (dimension_id, code, name, parent_id, active_from, active_to,
        blocked, responsible_id, proposes)
          values (${dimension.id}, ${input.code}, ${input.name}, ${parent?.id ?? null},
            ${input.activeFrom}, ${input.activeTo}, ${input.blocked},
            ${input.responsible === undefined ? (before?.responsibleId ?? null) : (responsible?.id ?? null)},
            ${JSON.stringify(input.proposes)}::jsonb)
          on conflict (dimension_id, code) do update set name = excluded.name,
            parent_id = excluded.parent_id, active_from = excluded.active_from,
            active_to = excluded.active_to, blocked = excluded.blocked,
            responsible_id = excluded.responsible_id, proposes = excluded.proposes returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "dimension value",
      recordId: saved!.id,
      label: `${input.dimension} ${input.code}`,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
