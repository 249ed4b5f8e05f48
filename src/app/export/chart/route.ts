import { chartTable, tableFile } from "@/server/files";
import { chart } from "@/server/ledger";
import { actionCaller } from "@/app/lib/session";
import { formatOf, refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const result = await chart(await actionCaller());
  return result.ok
    ? tableFile(
        chartTable(result.value.accounts, result.value.headings, result.value.dimensions),
        formatOf(new URL(request.url).searchParams, ["csv", "xlsx"]),
      )
    : refusal(result.problems);
}
