import { listSeals } from "@/server/closing";
import { keptSeals, publicKeyOf } from "@/server/evidence";
import { booksSealPlace } from "@/server/runtime";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

/** The signed seals with the public key, for an auditor to keep. */
export async function GET(): Promise<Response> {
  const allowed = await listSeals(await actionCaller());
  if (!allowed.ok) return refusal(allowed.problems);
  const place = booksSealPlace();
  const content = { key: publicKeyOf(place), seals: keptSeals(place) };
  return new Response(JSON.stringify(content, null, 2), {
    headers: {
      "Content-Type": "application/json",
      "Content-Disposition": 'attachment; filename="seals.json"',
      "Cache-Control": "no-store",
    },
  });
}
