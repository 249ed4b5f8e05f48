import { partnersTable, tableFile } from "@/server/files";
import { partnerTable } from "@/server/partners";
import { actionCaller } from "@/app/lib/session";
import { formatOf, refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const { searchParams } = new URL(request.url);
  const result = await partnerTable(await actionCaller(), {
    role: searchParams.get("role") === "customer" ? "customer" : "supplier",
  });
  return result.ok
    ? tableFile(partnersTable(result.value), formatOf(searchParams, ["csv", "xlsx"]))
    : refusal(result.problems);
}
