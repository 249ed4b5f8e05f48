"use client";
import { useEffect, useRef, useState } from "react";
import type { AccountKind } from "@/core/banks";
import { useWork } from "@/ui/frame/work";
import { useAct } from "@/app/lib/useAct";
import { shownDate } from "@/ui/writing";
import { bankDayAction, nextDemoDayAction } from "../actions";
import type { useStatementFiles } from "../StatementDrop";

/** Kinds of accounts of which a bank sends files; deposits come on paper. */
const WITH_FILES: readonly AccountKind[] = ["current", "card", "clearing"];

const FORMS = ["camt.053", "MT940", "CSV"] as const;

/**
 * The next day at the simulated bank, for all accounts of the company: its files come in like those
 * of a real bank. Only in the demo.
 */
export function BankDay({
  files,
  accounts,
}: {
  files: ReturnType<typeof useStatementFiles>;
  accounts: readonly { code: string; kind: AccountKind }[];
}) {
  const work = useWork();
  const [form, setForm] = useState<(typeof FORMS)[number]>("camt.053");
  const isOffered = work.demo && work.may("prepare.banks");
  const bring = async () => {
    const found: File[] = [];
    const refused: string[] = [];
    for (const { code } of accounts.filter((a) => WITH_FILES.includes(a.kind))) {
      const day = await bankDayAction(code, form).catch(() => null);
      if (day?.ok)
        for (const f of [...day.value.reports, day.value])
          found.push(new File([f.content], f.name));
      else refused.push(day?.message ?? "The server did not answer. Try again.");
    }
    await files.take(found, refused);
  };
  const { busy, act } = useAct();
  const bringNow = useRef(bring);
  useEffect(() => {
    bringNow.current = bring;
  });
  useEffect(() => {
    if (!isOffered) return;
    const onKey = (e: KeyboardEvent) => {
      const isTyping = (e.target as HTMLElement).closest("input, select, textarea");
      if (isTyping || e.ctrlKey || e.metaKey || e.altKey || e.key !== "d") return;
      e.preventDefault();
      void bringNow.current();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [isOffered]);
  if (!isOffered) return null;
  return (
    <>
      <select
        aria-label="Form in which the simulated bank sends"
        className="field w-auto"
        value={form}
        onChange={(e) => setForm(e.target.value as typeof form)}
      >
        {FORMS.map((f) => (
          <option key={f}>{f}</option>
        ))}
      </select>
      <button
        type="button"
        className="button"
        title="The simulated bank of the demo"
        disabled={files.busy}
        onClick={() => void bring()}
        data-keys="d=Next day at the bank"
      >
        Next day at the bank <kbd>d</kbd>
      </button>
      <button
        type="button"
        className="button"
        title={`The demo’s day is ${shownDate(work.today)}, for everybody`}
        disabled={busy}
        onClick={() =>
          void act(
            () => nextDemoDayAction(work.place.company),
            ({ day }) => `The demo’s day is ${shownDate(day)} now`,
          )
        }
      >
        Go on to the next day
      </button>
    </>
  );
}
