"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { type CalendarDate } from "@/core/shared";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";

type Answer = { ok: boolean; message?: string } | null;

interface Props {
  id: number;
  due: readonly CalendarDate[];
  skipped: Readonly<Record<CalendarDate, string>>;
  made: readonly {
    id: number;
    number: string;
    date: CalendarDate;
    status: string;
    amount: bigint;
  }[];
  currency: string;
  /** Where what was made is read: its identity is put behind it. */
  page: string;
  mayChange: boolean;
  skip(input: { id: number; date: CalendarDate; reason: string }): Promise<Answer>;
  onClose(): void;
}

/** The dates of a document that comes again: due, passed over, and what was made of it. */
export function DatesPanel(props: Props) {
  const { due, skipped, made, mayChange } = props;
  const work = useWork();
  const router = useRouter();
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const skip = async (date: CalendarDate, why: string) => {
    setBusy(true);
    const result = await props.skip({ id: props.id, date, reason: why }).catch(() => null);
    setBusy(false);
    if (!result?.ok) return setProblem(result?.message ?? "The server did not answer. Try again.");
    setProblem(null);
    setReason("");
    router.refresh();
  };
  return (
    <SidePanel title="Dates" onClose={props.onClose} width={380}>
      {problem && <Problems messages={[problem]} />}
      <h3 className="mt-1 font-semibold">Due</h3>
      {due.length === 0 && <p className="text-ink-2">Nothing is due in the period in view.</p>}
      {due.length > 0 && mayChange && (
        <input
          className="field"
          aria-label="Why a date is passed over"
          placeholder="Why a date is passed over"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      )}
      {due.map((d) => (
        <p key={d} className="flex items-center">
          {shownDate(d)}
          {mayChange && (
            <button
              type="button"
              className="link ml-auto"
              disabled={busy}
              // A dash is no reason: the server says so where none was given.
              onClick={() => void skip(d, reason || "-")}
            >
              Pass over
            </button>
          )}
        </p>
      ))}
      {Object.keys(skipped).length > 0 && <h3 className="mt-2 font-semibold">Passed over</h3>}
      {Object.entries(skipped).map(([d, why]) => (
        <p key={d} className="flex items-center gap-2">
          <span>
            {shownDate(d)}: {why}
          </span>
          {mayChange && (
            <button
              type="button"
              className="link ml-auto whitespace-nowrap"
              disabled={busy}
              onClick={() => void skip(d, "")}
            >
              Due again
            </button>
          )}
        </p>
      ))}
      <h3 className="mt-2 font-semibold">Made</h3>
      {made.length === 0 && <p className="text-ink-2">Nothing yet.</p>}
      {made.map((m) => (
        <p key={m.id} className="flex items-center gap-2">
          <Link className="link font-semibold" href={work.link(`${props.page}/${m.id}`)}>
            {m.number}
          </Link>
          <span className="text-ink-2">{shownDate(m.date)}</span>
          <Status of={m.status} quiet />
          <span className="ml-auto">{shownAmount(m.amount, props.currency)}</span>
        </p>
      ))}
    </SidePanel>
  );
}
