"use server";
import { dimensionTree } from "@/server/organisation";
import { actionCaller } from "@/app/lib/session";

/** Dimension values as a list with their depth, for choosing one. */
export async function dimensionValues(): Promise<{ key: string; text: string }[]> {
  const result = await dimensionTree(await actionCaller());
  return result.ok
    ? result.value.flatMap((d) =>
        d.values.map((v) => ({
          key: `${d.code}:${v.code}`,
          text: `${"\u2003".repeat(v.depth)}${v.code} ${v.name}`,
        })),
      )
    : [];
}
