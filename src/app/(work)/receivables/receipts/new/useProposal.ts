import { useEffect, useState } from "react";
import type { ReceiptProposal } from "@/server/receivables";
import { proposeReceiptAction } from "../actions";

/** What a proposal is asked with. */
export interface Asked {
  company: string;
  bank: string;
  partner: string;
  date: string;
  amount: string;
  text: string;
}

/**
 * What is open of a payer and proposed for its money, a moment after the last key; null before the
 * payer is known. `again` asks anew though nothing was typed.
 */
export function useProposal(
  asked: Asked | null,
  again: number,
): { found: ReceiptProposal | null; message: string } {
  const [state, setState] = useState<{
    key: string;
    found: ReceiptProposal | null;
    message: string;
  }>({ key: "", found: null, message: "" });
  const key = asked === null ? "" : JSON.stringify([asked, again]);
  const payer = asked === null ? "" : `${asked.company} ${asked.bank} ${asked.partner}`;
  useEffect(() => {
    if (key === "") return;
    let isLatest = true;
    const timer = setTimeout(() => {
      const [question] = JSON.parse(key) as [Asked];
      void proposeReceiptAction(question).then(
        (result) => {
          if (!isLatest) return;
          setState((before) =>
            result.ok
              ? { key: payer, found: result.value, message: "" }
              : { ...before, message: result.message },
          );
        },
        () =>
          isLatest &&
          setState((before) => ({ ...before, message: "The server did not answer. Type again." })),
      );
    }, 200);
    return () => {
      isLatest = false;
      clearTimeout(timer);
    };
  }, [key, payer]);
  // What was found of another payer is not this one's.
  return state.key === payer ? state : { found: null, message: state.message };
}
