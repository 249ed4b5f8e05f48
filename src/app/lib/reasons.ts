"use server";
import { isReasonPlace } from "@/core/documents";
import { listReasons } from "@/server/documents";
import { actionCaller } from "./session";

/** What is offered where something is taken back; nothing where that cannot be read. */
export async function reasonsAction(place: string): Promise<string[]> {
  if (!isReasonPlace(place)) return [];
  const found = await listReasons(await actionCaller(), {});
  return found.ok
    ? found.value.filter((r) => !r.blocked && r.places.includes(place)).map((r) => r.text)
    : [];
}
