"use client";
import { useCallback } from "react";
import { useSearchParams } from "next/navigation";
import { decodeTrace, encodeRef, encodeTrace, type FigureRef } from "@/core/trace";
import { useWork } from "../frame/work";

/** The trace that the address holds, and the ways to change it. */
export function useTrace() {
  const params = useSearchParams();
  const { go } = useWork();
  const text = params.get("trace");
  const open = useCallback((ref: FigureRef) => go({ trace: encodeTrace({ ref, path: [] }) }), [go]);
  const step = useCallback(
    (depth: number, to: string) => {
      const trace = text ? decodeTrace(text) : null;
      if (trace)
        go({ trace: encodeTrace({ ref: trace.ref, path: [...trace.path.slice(0, depth), to] }) });
    },
    [go, text],
  );
  const back = useCallback(() => {
    const trace = text ? decodeTrace(text) : null;
    if (!trace) return;
    go({
      trace:
        trace.path.length > 0
          ? encodeTrace({ ref: trace.ref, path: trace.path.slice(0, -1) })
          : null,
    });
  }, [go, text]);
  const close = useCallback(() => go({ trace: null }), [go]);
  const current = text ? decodeTrace(text) : null;
  return {
    text,
    current,
    currentRef: current ? encodeRef(current.ref) : null,
    open,
    step,
    back,
    close,
  };
}
