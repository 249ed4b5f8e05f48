import { encodeJson, type Result } from "@/core/shared";
import { answer } from "./answer";

/** What a route that the screens ask says: an answer as JSON, which nobody between keeps. */
export const answerResponse = (result: Result<unknown>): Response =>
  jsonResponse(encodeJson(answer(result)));

export const jsonResponse = (json: string | Uint8Array): Response =>
  new Response(json as BodyInit, {
    headers: { "Content-Type": "application/json", "Cache-Control": "no-store" },
  });

export const refusedAnswer = (what: string): Response =>
  answerResponse({ ok: false, problems: [{ code: "INVALID", what }] });
