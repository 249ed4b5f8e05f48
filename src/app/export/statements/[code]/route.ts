import { statementTable, tableFile } from "@/server/files";
import { statement } from "@/server/statements";
import { actionCaller } from "@/app/lib/session";
import { formatOf, placeOf, refusal } from "../../lib";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const caller = await actionCaller();
  const query = new URL(request.url).searchParams;
  const result = await statement(caller, {
    ...placeOf(query),
    code: (await params).code,
    ...(query.get("layout") ? { layout: query.get("layout") } : {}),
  });
  if (!result.ok) return refusal(result.problems);
  const format = formatOf(query, ["csv", "xlsx", "pdf"]);
  const scale =
    query.get("scale") === "1000" ? 1000 : query.get("scale") === "1000000" ? 1_000_000 : 1;
  // Paper shows the scale of the screen; files to calculate with hold every cent.
  const unit =
    format === "pdf" && scale > 1
      ? `${scale === 1000 ? "thousands" : "millions"} ${result.value.currency}`
      : result.value.currency;
  return tableFile(
    statementTable(result.value, unit),
    format,
    { style: "statement", scale },
    caller.person?.name,
  );
}
