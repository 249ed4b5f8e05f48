import "server-only";
import { describeFound } from "@/core/shared";
import type { Place } from "@/core/organisation";
import { trace, type Trace } from "@/server/trace";
import { reportInput } from "./place";
import { pageCaller } from "./session";

/** The open trace of a page, as its address says. */
export async function openTrace(
  address: Record<string, string | undefined>,
  place: Place,
  more: { withClosing?: boolean; values?: string[] } = {},
): Promise<{ trace: Trace | null; message: string | null }> {
  if (!address.trace) return { trace: null, message: null };
  const result = await trace(await pageCaller(), {
    ...reportInput(place),
    trace: address.trace,
    ...more,
  });
  return result.ok
    ? { trace: result.value, message: null }
    : { trace: null, message: result.problems.map(describeFound).join(" ") };
}
