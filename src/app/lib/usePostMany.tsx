"use client";
import { useRouter } from "next/navigation";
import { useCallback, useState } from "react";
import { toast } from "sonner";

interface Draft {
  id: number;
  name: string;
}
/** What posting one came to: a note where it was not posted after all, as when it is held. */
type Posted = { ok: true; note?: string | undefined } | { ok: false; message: string };

/**
 * Posts the chosen drafts of a list one after the other: each by itself, and what stands against
 * one is said by its name.
 */
export function usePostMany(post: (id: number) => Promise<Posted>) {
  const router = useRouter();
  const [selected, setSelected] = useState<string[]>([]);
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const select = useCallback((keys: string[]) => setSelected(keys), []);
  const postAll = async (drafts: readonly Draft[]) => {
    const said: string[] = [];
    setProblems([]);
    for (const [i, d] of drafts.entries()) {
      setProgress({ done: i, of: drafts.length });
      const result = await post(d.id).catch(() => null);
      if (!result) said.push(`${d.name}: the server did not answer.`);
      else if (!result.ok) said.push(`${d.name}: ${result.message}`);
      else if (result.note) said.push(`${d.name}: ${result.note}`);
    }
    setProgress(null);
    setProblems(said);
    if (drafts.length > said.length) toast.success(`${drafts.length - said.length} posted.`);
    router.refresh();
  };
  return { selected, select, progress, problems, postAll };
}

/** The button that posts them, with how far it is. */
export function PostMany({
  drafts,
  one,
  several,
  progress,
  onPost,
}: {
  drafts: readonly Draft[];
  one: string;
  several: string;
  progress: { done: number; of: number } | null;
  onPost: (drafts: readonly Draft[]) => Promise<void>;
}) {
  if (drafts.length === 0) return null;
  return (
    <button
      type="button"
      className="button h-7"
      disabled={progress !== null}
      onClick={() => void onPost(drafts)}
    >
      {progress
        ? `Posting ${progress.done + 1} of ${progress.of}`
        : `Post ${drafts.length} ${drafts.length === 1 ? one : several}`}
    </button>
  );
}
