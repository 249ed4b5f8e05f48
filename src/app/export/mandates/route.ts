import { mandatesTable, tableFile } from "@/server/files";
import { listMandates } from "@/server/receivables";
import { actionCaller } from "@/app/lib/session";
import { formatOf, refusal } from "../lib";

/** Mandates in force, as a table. */
export async function GET(request: Request): Promise<Response> {
  const { searchParams } = new URL(request.url);
  const result = await listMandates(await actionCaller(), {
    company: searchParams.get("company") ?? "",
  });
  return result.ok
    ? tableFile(
        mandatesTable(result.value.filter((m) => m.ended === null)),
        formatOf(searchParams, ["csv", "xlsx"]),
      )
    : refusal(result.problems);
}
