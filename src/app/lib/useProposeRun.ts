"use client";
import { useRouter } from "next/navigation";
import { useCallback, useState } from "react";
import { runPages } from "@/core/runs";
import { useWork } from "@/ui/frame/work";
import { proposeRunAction } from "@/app/runs/actions";

/** How a form proposes a run of a kind, and goes on to its preview. */
export function useRunForm(kind: string) {
  const work = useWork();
  const router = useRouter();
  const propose = useCallback(
    (params: object) => proposeRunAction(kind, { company: work.place.company, ...params }),
    [kind, work.place.company],
  );
  const open = useCallback(
    ({ id }: { id: number }) => router.push(work.link(`${runPages(kind)}/${id}`)),
    [router, work, kind],
  );
  return { propose, open };
}

/** How a list proposes a run of a kind: on to its preview, or what stands against it. */
export function useProposeRun(kind: string) {
  const { propose: ask, open } = useRunForm(kind);
  const [busy, setBusy] = useState(false);
  const [messages, setMessages] = useState<string[]>([]);
  const propose = useCallback(
    async (params: object) => {
      setBusy(true);
      const result = await ask(params).catch(() => null);
      setBusy(false);
      if (result?.ok) return open(result.value);
      setMessages(
        result?.problems.map((p) => p.message) ?? ["The server did not answer. Try again."],
      );
    },
    [ask, open],
  );
  return { busy, messages, propose };
}
