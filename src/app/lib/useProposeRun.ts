"use client";
import { useRouter } from "next/navigation";
import { useCallback, useState } from "react";
import { useWork } from "@/ui/frame/work";
import { proposeRunAction } from "../(work)/close/actions";

/**
 * Proposing a run of a kind: on to its preview, or what stands against it, with the field where
 * there is one.
 */
export function useProposeRun(kind: string) {
  const work = useWork();
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [problems, setProblems] = useState<{ field: string | null; message: string }[]>([]);
  const propose = useCallback(
    async (params: object) => {
      setBusy(true);
      const result = await proposeRunAction(kind, { company: work.place.company, ...params }).catch(
        () => null,
      );
      setBusy(false);
      if (!result?.ok)
        return setProblems(
          result
            ? result.problems
            : [{ field: null, message: "The server did not answer. Try again." }],
        );
      router.push(work.link(`/close/runs/${result.value.id}`));
    },
    [kind, router, work],
  );
  return { busy, problems, messages: problems.map((p) => p.message), propose };
}
