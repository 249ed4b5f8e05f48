import { getMessageFile } from "@/server/letters";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const asked = new URL(request.url).searchParams;
  const result = await getMessageFile(await actionCaller(), {
    id: Number(asked.get("id")) || 0,
    no: Number(asked.get("no")) || 1,
  });
  return result.ok
    ? new Response(new Uint8Array(result.value.content), {
        headers: {
          "Content-Type": result.value.name.endsWith(".xml")
            ? "application/xml"
            : "application/pdf",
          "Content-Disposition": `attachment; filename="${result.value.name}"`,
          "Content-Security-Policy": "sandbox",
          "Cache-Control": "no-store",
        },
      })
    : refusal(result.problems);
}
