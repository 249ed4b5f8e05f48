"use client";
import { useEffect, useState } from "react";
import type { ReasonPlace } from "@/core/documents";
import { reasonsAction } from "./reasons";

/** The reasons that are set up for a place, offered to the field that names this list. */
export function OfferedReasons({ id, place }: { id: string; place: ReasonPlace | undefined }) {
  const [reasons, setReasons] = useState<readonly string[]>([]);
  useEffect(() => {
    if (place)
      void reasonsAction(place).then(setReasons, () => {
        // Without an answer a reason is typed, as always.
      });
  }, [place]);
  return (
    <datalist id={id}>
      {reasons.map((r) => (
        <option key={r} value={r} />
      ))}
    </datalist>
  );
}
