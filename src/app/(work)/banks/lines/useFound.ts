import { useEffect, useRef, useState } from "react";
import type { Answer } from "@/app/lib/answer";

/** What is found for what is typed, a moment after the last key; an older answer overtakes no newer. */
export function useFound<T>(
  ask: () => Promise<Answer<readonly T[]>>,
  typed: string,
): { found: readonly T[] | null; message: string } {
  const [found, setFound] = useState<readonly T[] | null>(null);
  const [message, setMessage] = useState("");
  const asks = useRef(ask);
  useEffect(() => {
    asks.current = ask;
  });
  useEffect(() => {
    let isLatest = true;
    const timer = setTimeout(() => {
      void asks.current().then(
        (result) => {
          if (!isLatest) return;
          setFound(result.ok ? result.value : []);
          setMessage(result.ok ? "" : result.message);
        },
        () => isLatest && setMessage("The server did not answer. Type again."),
      );
    }, 150);
    return () => {
      isLatest = false;
      clearTimeout(timer);
    };
  }, [typed]);
  return { found, message };
}
