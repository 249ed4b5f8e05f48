import { object } from "yup";
import type { Dimension, DimensionValue } from "@/core/ledger";
import { ok } from "@/core/shared";
import { defineUseCase } from "../access";

export interface DimensionBranch {
  id: number;
  code: string;
  name: string;
  slot: number;
  balancing: Dimension["balancing"];
  balancingAccount: string | null;
  values: (DimensionValue & { depth: number; parent: string | null })[];
}

/** Dimensions with their values in the order of their trees. */
export const dimensionTree = defineUseCase({
  name: "dimensionTree",
  kind: "read",
  rights: ["read.ledger", "read.branch", "read.setup", "setup.organisation", "prepare.ledger"],
  what: "see dimensions",
  of: "shared",
  schema: object(),
  run: async ({ masters }) =>
    ok(
      masters.dimensions.map((d): DimensionBranch => {
        const own = masters.dimensionValues.filter((v) => v.dimensionId === d.id);
        const below = (parentId: number | null, depth: number): DimensionBranch["values"] =>
          own
            .filter((v) => v.parentId === parentId)
            .sort((a, b) => (depth === 0 ? a.id - b.id : a.code < b.code ? -1 : 1))
            .flatMap((v) => [
              {
                ...v,
                depth,
                parent: parentId === null ? null : masters.valueById.get(parentId)!.code,
              },
              ...below(v.id, depth + 1),
            ]);
        return {
          id: d.id,
          code: d.code,
          name: d.name,
          slot: d.slot,
          balancing: d.balancing,
          balancingAccount: d.balancingAccount,
          values: below(null, 0),
        };
      }),
    ),
});
