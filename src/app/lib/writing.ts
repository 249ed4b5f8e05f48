import "server-only";
import { cookies } from "next/headers";
import { readWriting, writingCode, type Writing } from "@/core/shared";
import { personOf, readPreferences } from "@/server/access";
import type { Database } from "@/server/db";

/** The person's way of writing, for the browser that they have signed in with (scripts/writing.mjs). */
export const WRITING_COOKIE = "writing";
/** The name under which it is kept with the person. */
export const WRITING_PREFERENCE = "writing";

/** The way of writing of whoever has just signed in. */
export async function writingOf(database: Database, secret: string): Promise<Writing> {
  const person = await personOf(database, secret, "screen");
  const kept = await readPreferences({ database, person });
  return readWriting(kept.ok ? kept.value[WRITING_PREFERENCE] : undefined);
}

export async function keepWriting(writing: Writing): Promise<void> {
  (await cookies()).set(WRITING_COOKIE, writingCode(writing), {
    sameSite: "lax",
    path: "/",
    maxAge: 31_536_000,
  });
}
