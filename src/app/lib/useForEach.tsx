"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";

interface Chosen {
  id: number;
  name: string;
}
/** What it came to for one: a note where it is not what was wanted, as when it is held. */
type Outcome = { ok: true; note?: string | undefined } | { ok: false; message: string };

/** What is done to chosen rows: the verb of its button, while it goes on, when it is done. */
interface Act {
  verb: string;
  going: string;
  done: string;
  act: (id: number) => Promise<Outcome>;
}

/**
 * Does the same to the chosen rows of a list one after the other: each by itself, and what stands
 * against one is said by its name.
 */
export function useForEach({ verb, going, done, act }: Act) {
  const router = useRouter();
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const actOnAll = async (chosen: readonly Chosen[]) => {
    const said: string[] = [];
    let succeeded = 0;
    setProblems([]);
    for (const [i, { id, name }] of chosen.entries()) {
      setProgress({ done: i, of: chosen.length });
      const result = await act(id).catch(() => null);
      if (!result) said.push(`${name}: the server did not answer.`);
      else if (!result.ok) said.push(`${name}: ${result.message}`);
      else if (result.note) said.push(`${name}: ${result.note}`);
      else succeeded++;
    }
    setProgress(null);
    setProblems(said);
    if (succeeded > 0) toast.success(`${succeeded} ${done}.`);
    router.refresh();
  };
  return { problems, button: { verb, going, progress, onAct: actOnAll } };
}

/** The button that does it, with how far it is; none where nothing chosen can have it. */
export function ForEachButton({
  chosen,
  one,
  several,
  verb,
  going,
  progress,
  onAct,
}: {
  chosen: readonly Chosen[];
  one: string;
  several: string;
} & ReturnType<typeof useForEach>["button"]) {
  if (chosen.length === 0) return null;
  return (
    <button
      type="button"
      className="button h-7"
      disabled={progress !== null}
      onClick={() => void onAct(chosen)}
    >
      {progress
        ? `${going} ${progress.done + 1} of ${progress.of}`
        : `${verb} ${chosen.length} ${chosen.length === 1 ? one : several}`}
    </button>
  );
}

/** Posting of drafts, for the lists that hold them. */
export const useForEachDraft = (act: Act["act"]) =>
  useForEach({ verb: "Post", going: "Posting", done: "posted", act });
