"use client";
import Link from "next/link";
import type { FirstStep } from "@/core/organisation";
import { useWork } from "@/ui/frame/work";
import { Status } from "@/ui/Status";

/** What is still to be set up before the first journal; each step ticks itself. */
export function FirstSteps({ steps }: { steps: readonly FirstStep[] }) {
  const { link } = useWork();
  const next = steps.find((s) => !s.done && !s.optional);
  return (
    <section className="panel shrink-0" aria-label="First steps">
      <div className="border-b border-line px-3 py-2">
        <h2>First steps</h2>
      </div>
      <ol>
        {steps.map((s) => (
          <li
            key={s.name}
            className={`flex items-center gap-3 border-b border-line-2 px-3 py-1.5 ${s === next ? "bg-yellow-2" : ""}`}
          >
            <span className="w-24 shrink-0">
              <Status of={s.done ? "done" : "not-yet"} />
            </span>
            <Link className="link w-40 shrink-0 font-semibold" href={link(s.page)}>
              {s.name}
            </Link>
            <span className="text-ink-2">
              {s.says}
              {s.optional && !s.done ? " Can wait." : ""}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
