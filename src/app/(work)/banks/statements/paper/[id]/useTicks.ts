import { useRouter } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import type { PaperLine, PaperStatement } from "@/server/banks";
import type { Ticks } from "@/ui/table/useChoice";
import { tickAction } from "../../../actions";

/**
 * The ticks of a statement from paper: shown at once, kept one after the other in the order in which
 * they were made, and as the server has them where it refuses one.
 */
export function useTicks(
  s: PaperStatement,
  keyOf: (l: PaperLine) => string,
  mayWork: boolean,
  refused: (messages: string[]) => void,
): Ticks {
  const router = useRouter();
  const kept = useMemo(
    () => new Set(s.lines.filter((l) => l.line !== null).map(keyOf)),
    [s, keyOf],
  );
  const [keys, setKeys] = useState<ReadonlySet<string>>(kept);
  const waiting = useRef(0);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  // What comes from the server counts once nothing is on its way there.
  useEffect(() => {
    if (waiting.current === 0) setKeys(kept);
  }, [kept]);
  const set = (asked: readonly string[], on: boolean) => {
    const own = new Map(s.lines.map((l) => [keyOf(l), l]));
    // What only the bank knows is on its statement: it is taken off, not unticked.
    const changed = asked.filter((k) => own.get(k)?.state === null && keys.has(k) !== on);
    if (!mayWork || changed.length === 0) return;
    setKeys((now) => {
      const next = new Set(now);
      for (const key of changed)
        if (on) next.add(key);
        else next.delete(key);
      return next;
    });
    waiting.current++;
    queue.current = queue.current.then(async () => {
      const journals = changed.map((k) => own.get(k)!.journal!.id);
      const result = await tickAction(s.id, journals, on).catch(() => null);
      waiting.current--;
      refused(
        result?.ok
          ? []
          : result
            ? result.problems.map((p) => p.message)
            : ["The server did not answer. Look again before you go on."],
      );
      if (!result?.ok || waiting.current === 0) router.refresh();
    });
  };
  return { keys, set };
}
