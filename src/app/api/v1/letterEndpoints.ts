import { object, string } from "yup";
import { decimalText } from "@/core/shared";
import { lettersOfRun, listLetterRuns, sendLetters } from "@/server/receivables";
import { map, type Endpoint } from "./endpoint";

/** Letters to customers about their accounts; their runs are proposed and posted as all runs are. */
export const LETTER_ENDPOINTS: readonly Endpoint[] = [
  {
    method: "get",
    path: "/letters",
    summary: "Runs of letters to customers, with how many were made and sent",
    query: object({ company: string().required() }),
    example: { items: [{ run: "HSF-26-R0021", what: "reminder", letters: 3, sent: 3 }] },
    handle: async ({ caller, query }) =>
      map(await listLetterRuns(caller, query), (runs) => ({
        items: runs.map(({ number, what, date, status, letters, sent }) => ({
          run: number,
          what,
          date,
          status,
          letters,
          sent,
        })),
      })),
  },
  {
    method: "get",
    path: "/letters/{run}",
    summary: "The letters of a run: to whom, at which level, about how much, and where each stands",
    example: {
      items: [{ customer: "C-207", level: 2, currency: "EUR", amount: "71389.29", sentOn: null }],
    },
    handle: async ({ caller, path }) =>
      map(await lettersOfRun(caller, { run: path.run }), (letters) => ({
        items: letters.map((l) => ({
          customer: l.customer,
          level: l.level,
          items: l.items,
          currency: l.currency,
          amount: decimalText(l.amount, l.currency),
          fee: decimalText(l.fee, l.currency),
          interest: decimalText(l.interest, l.currency),
          invoice: l.sale?.number ?? null,
          sentTo: l.sentTo,
          sentOn: l.sentOn,
        })),
      })),
  },
  {
    method: "post",
    path: "/letters/{run}/send",
    summary: "Send the letters of a posted run, by and by",
    status: 201,
    example: { letters: 3 },
    handle: async ({ caller, path }) =>
      map(await sendLetters(caller, { run: path.run }), ({ letters }) => ({ letters })),
  },
];
