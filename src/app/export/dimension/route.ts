import { tableFile } from "@/server/files";
import { dimensionTree } from "@/server/organisation";
import { actionCaller } from "@/app/lib/session";
import { formatOf, refusal } from "../lib";

/** The values of a dimension as a file that can be loaded again. */
export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const result = await dimensionTree(await actionCaller());
  if (!result.ok) return refusal(result.problems);
  const dimension = result.value.find((d) => d.code === query.get("dimension"));
  if (!dimension)
    return refusal([{ code: "DIMENSION_UNKNOWN", dimension: query.get("dimension") ?? "" }]);
  return tableFile(
    {
      name: dimension.code,
      title: dimension.name,
      subtitle: "",
      headers: ["code", "name", "parent", "from", "to", "blocked"],
      rows: dimension.values.map((v) => ({
        cells: [
          v.code,
          v.name,
          v.parent ?? "",
          v.activeFrom ?? "",
          v.activeTo ?? "",
          v.blocked ? "yes" : "no",
        ],
      })),
    },
    formatOf(query, ["csv", "xlsx"]),
  );
}
