"use client";
import type { DeskCustomer } from "@/server/receivables";

/** How the score came about: its parts with what they found and their rules, and what would lower it. */
export function Why({ customer }: { customer: DeskCustomer }) {
  const { row, lowers } = customer;
  const most = row.parts.reduce((t, p) => t + p.most, 0);
  return (
    <section aria-label="Why this score" className="m-3.5 rounded-lg border border-line px-3 py-2">
      <div className="flex items-baseline justify-between">
        <h3 className="font-bold">Why {row.score}</h3>
        <span className="text-xs text-ink-3">of {most}</span>
      </div>
      <p className="pb-1 text-ink-2">
        Next: <b className="font-semibold text-ink">{row.action}</b>, {row.because}.
      </p>
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th scope="col">Part</th>
            <th scope="col">Points</th>
          </tr>
        </thead>
        <tbody>
          {row.parts.map((p) => (
            <tr key={p.code} className={p.points === 0 ? "text-ink-3" : ""}>
              <td className="py-0.5 pr-3">
                {p.says}
                <span className="block text-xs text-ink-3">{p.rule}</span>
              </td>
              <td className="w-16 py-0.5 text-right align-top whitespace-nowrap">
                {p.points} <span className="text-xs text-ink-3">of {p.most}</span>
              </td>
            </tr>
          ))}
          {lowers.map((l) => (
            <tr key={l.says} className="border-t border-line-2">
              <td className="py-0.5 pr-3 font-semibold">{l.says}</td>
              <td className="py-0.5 text-right font-semibold">{l.score}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
