import { tableFile, trialBalanceTable } from "@/server/files";
import { trialBalance } from "@/server/ledger";
import { actionCaller } from "@/app/lib/session";
import { formatOf, placeOf, refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const caller = await actionCaller();
  const query = new URL(request.url).searchParams;
  const result = await trialBalance(caller, {
    ...placeOf(query),
    withClosing: query.get("closing") === "1",
    values: query.getAll("value"),
  });
  return result.ok
    ? tableFile(
        trialBalanceTable(result.value),
        formatOf(query, ["csv", "xlsx", "pdf"]),
        {},
        caller.person?.name,
      )
    : refusal(result.problems);
}
