"use client";
import Link from "next/link";
import { useEffect, useState } from "react";
import type { LineRuleRow, RuleTrial } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { shownAmount, shownDay } from "@/ui/writing";
import { tryRuleAction } from "../actions";

/** What a rule makes of the lines of the last year, before and while it is in use. */
export function RuleTrialList({ rule }: { rule: LineRuleRow }) {
  const work = useWork();
  const [trial, setTrial] = useState<RuleTrial | null>(null);
  useEffect(() => {
    let isHere = true;
    void tryRuleAction(rule.id).then((answer) => {
      if (isHere && answer.ok) setTrial(answer.value);
    });
    return () => {
      isHere = false;
    };
  }, [rule.id, rule.version]);
  if (!trial) return <p className="text-ink-2">Trying it on the lines of the last year …</p>;
  return (
    <section className="flex flex-col gap-2">
      <h3 className="font-semibold">Tried on the last year</h3>
      <p>
        It fits {trial.fits.toLocaleString("en")} of {trial.looked.toLocaleString("en")} lines.{" "}
        {trial.differs === 0
          ? "None of them was decided otherwise."
          : `${trial.differs} were decided otherwise, marked below.`}
      </p>
      {trial.lines.length > 0 && (
        <table className="w-full text-[12.5px]">
          <thead className="text-left text-ink-2">
            <tr>
              <th className="font-normal">Date</th>
              <th className="font-normal">Line, and what it was</th>
              <th className="text-right font-normal">Amount</th>
            </tr>
          </thead>
          <tbody>
            {trial.lines.map((l) => (
              <tr key={l.id} className="border-t border-line align-top">
                <td className="whitespace-nowrap py-1 pr-2">{shownDay(l.booked)}</td>
                <td className="py-1 pr-2">
                  <Link
                    className="link"
                    href={work.link("/banks/lines", { line: String(l.id), status: "all" })}
                  >
                    {l.text.slice(0, 60) || "no text"}
                  </Link>
                  <span
                    className={`block ${l.differs ? "font-semibold text-coral" : "text-ink-2"}`}
                  >
                    {l.now}
                  </span>
                </td>
                <td className="whitespace-nowrap py-1 text-right">
                  {shownAmount(l.amount, l.currency)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
