import { describeFound, type Result } from "@/core/shared";
import { showProblem, type ShownProblem } from "@/server/ledger";
import { shownSentence } from "@/ui/writing";

/** What an action gives a screen: the value, or sentences with their places. */
export type Answer<T> =
  { ok: true; value: T } | { ok: false; message: string; problems: ShownProblem[] };

export const answer = <T>(result: Result<T>): Answer<T> =>
  result.ok
    ? result
    : {
        ok: false,
        message: shownSentence(result.problems.map(describeFound).join(" ")),
        problems: result.problems
          .map(showProblem)
          .map((p) => ({ ...p, message: shownSentence(p.message) })),
      };
