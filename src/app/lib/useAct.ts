import { useRouter } from "next/navigation";
import { useCallback, useRef, useState } from "react";
import { toast } from "sonner";
import type { Answer } from "./answer";

/**
 * Doing something with the document of a page: one thing at a time, what stands against it as
 * sentences, the page anew when it is done.
 */
export function useAct(before: string[] = []) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [messages, setMessages] = useState(before);
  const working = useRef(false);
  const act = useCallback(
    async <T>(
      job: () => Promise<Answer<T>>,
      done: string | ((value: T) => string),
      then?: (value: T) => void,
    ): Promise<boolean> => {
      // Two clicks may come before the page is drawn anew: what is shown is no guard.
      if (working.current) return false;
      working.current = true;
      setBusy(true);
      const result = await job().catch(() => null);
      working.current = false;
      setBusy(false);
      if (!result?.ok) {
        setMessages(
          result
            ? result.problems.map((p) => p.message)
            : ["The server did not answer. Look again before you repeat this."],
        );
        return false;
      }
      setMessages([]);
      toast.success(typeof done === "string" ? done : done(result.value));
      then?.(result.value);
      router.refresh();
      return true;
    },
    [router],
  );
  return { busy, messages, setMessages, act };
}
