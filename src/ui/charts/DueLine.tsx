"use client";
import dynamic from "next/dynamic";

/** What falls on a day: what is due, what came in, what is promised. */
export interface DueMark {
  /** Days from today; before it negative. */
  day: number;
  kind: "overdue" | "due" | "paid" | "promise" | "broken";
  /** Of what is drawn: for the eye only. */
  value: number;
  /** What is read: the day, what it is, the amount. */
  texts: { day: string; what: string; amount: string };
}

const DueLineDrawing = dynamic(() => import("./DueLineDrawing"), { ssr: false });

/** Days past and to come with what is due on them, what was paid and what is promised. */
export function DueLine({
  label,
  today,
  marks,
}: {
  label: string;
  today: string;
  marks: readonly DueMark[];
}) {
  return (
    <figure className="relative h-[112px] min-w-0 shrink-0 overflow-hidden" aria-label={label}>
      <div aria-hidden className="h-full">
        <DueLineDrawing marks={marks} today={today} />
      </div>
      <table className="sr-only">
        <caption>{label}</caption>
        <thead>
          <tr>
            <th scope="col">Day</th>
            <th scope="col">What</th>
            <th scope="col">Amount</th>
          </tr>
        </thead>
        <tbody>
          {marks.map((m, i) => (
            <tr key={i}>
              <th scope="row">{m.texts.day}</th>
              <td>{m.texts.what}</td>
              <td>{m.texts.amount}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
