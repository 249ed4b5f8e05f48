import { loadTemplate } from "@/server/files";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const result = await loadTemplate(await actionCaller(), {
    company: query.get("company") ?? "",
    rows: Number(query.get("rows")) || 200,
  });
  if (!result.ok) return refusal(result.problems);
  return new Response(result.value as BodyInit, {
    headers: {
      "Content-Type": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
      "Content-Disposition": 'attachment; filename="journals-to-load.xlsx"',
      "Cache-Control": "no-store",
    },
  });
}
