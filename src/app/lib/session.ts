import "server-only";
import { cache } from "react";
import { cookies, headers } from "next/headers";
import { redirect } from "next/navigation";
import { personOf, type Caller, type Person } from "@/server/access";
import { sha256 } from "@/server/db";
import { getDatabase } from "@/server/runtime";

import { placeOnSite } from "./placeOnSite";

/** Where the proxy notes the address that a page was asked for by. */
const PLACE_HEADER = "x-place";
/** Where HTTPS is set up, the cookie is bound to this host and to HTTPS (RFC 6265bis). */
export const HTTPS = process.env.YELLOW_ANCHOR_HTTPS === "1";
export const SESSION_COOKIE = HTTPS ? "__Host-anchor_session" : "anchor_session";

/** Who asks, once per request. */
export const currentPerson = cache(async (): Promise<Person | null> =>
  personOf(await getDatabase(), (await cookies()).get(SESSION_COOKIE)?.value, "screen"),
);

/** Whoever has signed in; who has not is sent to do so. */
export async function signedIn(): Promise<Caller & { person: Person }> {
  const person = await currentPerson();
  if (!person) {
    const place = placeOnSite((await headers()).get(PLACE_HEADER) ?? "");
    redirect(place ? `/sign-in?to=${encodeURIComponent(place)}` : "/sign-in");
  }
  return { database: await getDatabase(), person };
}

/**
 * The caller of a page. Whoever lacks the second factor that a role of theirs demands is sent to
 * where it is set up, which alone does without it.
 */
export async function pageCaller(): Promise<Caller & { person: Person }> {
  const caller = await signedIn();
  if (caller.person.lacksSecondFactor) redirect("/account");
  return caller;
}

/** The caller of a server action; use cases refuse a stranger. */
export const actionCaller = async (): Promise<Caller> => ({
  database: await getDatabase(),
  person: await currentPerson(),
});

/** The caller of what a page asks by itself, now and then: it keeps nobody signed in. */
export const watchingCaller = async (): Promise<Caller> => {
  const database = await getDatabase();
  const secret = (await cookies()).get(SESSION_COOKIE)?.value;
  return { database, person: await personOf(database, secret, "screen", { byItself: true }) };
};

/**
 * The caller of an act that one form does once: what the same form sends again, as it was, is
 * answered as the first time and done no second time.
 */
export async function onceCaller(form: string, input: unknown): Promise<Caller> {
  const said = sha256(JSON.stringify(input));
  return {
    ...(await actionCaller()),
    idempotency: { key: `screen ${form.slice(0, 60)} ${said}`, requestHash: said },
  };
}
