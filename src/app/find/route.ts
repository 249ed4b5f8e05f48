import { find } from "@/server/search";
import { actionCaller } from "@/app/lib/session";
import { keptFigures } from "@/ui/writing";

/** What the find box asks as one types. */
export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const result = await find(await actionCaller(), {
    text: query.get("text") ?? "",
    figure: keptFigures(query.get("text") ?? ""),
    company: query.get("company") ?? undefined,
  });
  return Response.json(result.ok ? result.value : [], {
    status: result.ok ? 200 : 403,
    headers: { "Cache-Control": "no-store" },
  });
}
