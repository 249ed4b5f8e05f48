"use client";
import { useEffect, useState } from "react";
import type { ReasonPlace } from "@/core/documents";
import { reasonsAction } from "./reasons";

/** The reasons that are offered at a place, once they are read. */
export function useReasons(place: ReasonPlace | undefined): readonly string[] {
  const [reasons, setReasons] = useState<readonly string[]>([]);
  useEffect(() => {
    if (place)
      void reasonsAction(place).then(setReasons, () => {
        // Without an answer a reason is typed, as always.
      });
  }, [place]);
  return reasons;
}
