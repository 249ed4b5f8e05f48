import { contactsTable, tableFile } from "@/server/files";
import { listContacts } from "@/server/partners";
import { actionCaller } from "@/app/lib/session";
import { formatOf, refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const { searchParams } = new URL(request.url);
  const result = await listContacts(await actionCaller(), {});
  return result.ok
    ? tableFile(contactsTable(result.value), formatOf(searchParams, ["csv", "xlsx"]))
    : refusal(result.problems);
}
