import "server-only";
import { cache } from "react";
import { cookies } from "next/headers";
import { listOfAddress } from "@/core/lists";
import { resolvePlace, type Place } from "@/core/organisation";
import { frame } from "@/server/organisation";
import { signedIn } from "./session";

export const PLACE_COOKIE = "anchor_place";
export type SearchParams = Promise<Record<string, string | string[] | undefined>>;

/** Frame data, once per request. */
export const frameData = cache(async () => {
  const result = await frame(await signedIn());
  if (!result.ok) throw new Error("frame");
  return result.value;
});

export const lastPlace = async (): Promise<Partial<Place>> => {
  const [company, book, period] = ((await cookies()).get(PLACE_COOKIE)?.value ?? "").split("~");
  return {
    ...(company ? { company } : {}),
    ...(book ? { book } : {}),
    ...(period ? { period } : {}),
  };
};

/** The address of a page as plain texts, and the place that it means. */
export async function readAddress(
  searchParams: SearchParams,
): Promise<{ address: Record<string, string | undefined>; place: Place }> {
  const raw = await searchParams;
  const address = Object.fromEntries(
    Object.entries(raw).map(([k, v]) => [k, Array.isArray(v) ? v[0] : v]),
  );
  return { address, place: resolvePlace(await frameData(), address, await lastPlace()) };
}

/**
 * What lists of documents are asked with. Drafts and a text are looked for everywhere; the strip
 * narrows the rest.
 */
export async function listAddress(
  searchParams: SearchParams,
  anywhereToo: readonly string[] = ["draft"],
) {
  const { address, place } = await readAddress(searchParams);
  const company = (await frameData()).companies.find((c) => c.code === place.company);
  const status = ["draft", "waiting", "held", "posted", "reversed"].includes(address.status ?? "")
    ? address.status!
    : "all";
  const text = address.text ?? "";
  const anywhere = text !== "" || anywhereToo.includes(status);
  const span = anywhere
    ? {}
    : {
        from: company?.periods.find((p) => p.key === place.from)?.start,
        to: company?.periods.find((p) => p.key === place.period)?.end,
      };
  return {
    address,
    company,
    status,
    text,
    anywhere,
    input: { company: place.company, status, text, ...listOfAddress(address), ...span },
  };
}

/** What reports are asked with. */
export const reportInput = (place: Place) => ({
  company: place.company,
  book: place.book,
  period: place.period,
  ...(place.from !== place.period ? { from: place.from } : {}),
  ...(place.asKnown ? { asKnown: place.asKnown } : {}),
});

/**
 * What a report as known then says of itself. Accounts and dimension values have no versions;
 * outlines do.
 */
export const asKnownNote = (asKnown: string): string =>
  ` · as known ${asKnown.replace("T", " ")} UTC, with today's names`;
