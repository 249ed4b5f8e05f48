"use client";
import { useState } from "react";
import type { StatementLineView } from "@/server/banks";
import { useWork } from "@/ui/frame/work";

/** Posts the line by the coding of a kind of movement, or by one given for it alone. */
export function CodingForm({
  line,
  kinds,
  busy,
  onDecide,
}: {
  line: StatementLineView;
  kinds: { code: string; name: string }[];
  busy: boolean;
  onDecide: (decision: Record<string, unknown>) => void;
}) {
  const work = useWork();
  const [kind, setKind] = useState("");
  const [account, setAccount] = useState("");
  const [costCentre, setCostCentre] = useState("");
  const [text, setText] = useState(line.text.slice(0, 200));
  const decide = () =>
    onDecide(
      kind
        ? { kind }
        : {
            coding: {
              account,
              dimensions: costCentre ? { costCentre } : {},
              text,
            },
          },
    );
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        decide();
      }}
    >
      <label className="label" htmlFor="line-kind">
        Kind of movement
      </label>
      <select
        id="line-kind"
        className="field"
        value={kind}
        onChange={(e) => setKind(e.target.value)}
      >
        <option value="">A coding for this line alone</option>
        {kinds.map((k) => (
          <option key={k.code} value={k.code}>
            {k.name}
          </option>
        ))}
      </select>
      {kind === "" && (
        <div className="grid grid-cols-2 gap-2">
          <div>
            <label className="label" htmlFor="line-account">
              Account
            </label>
            <input
              id="line-account"
              className="field"
              autoFocus
              value={account}
              onChange={(e) => setAccount(e.target.value)}
            />
          </div>
          <div>
            <label className="label" htmlFor="line-centre">
              Cost centre
            </label>
            <input
              id="line-centre"
              className="field"
              value={costCentre}
              onChange={(e) => setCostCentre(e.target.value)}
            />
          </div>
          <div className="col-span-2">
            <label className="label" htmlFor="line-text">
              Text in the journal
            </label>
            <input
              id="line-text"
              className="field"
              value={text}
              maxLength={200}
              onChange={(e) => setText(e.target.value)}
            />
          </div>
        </div>
      )}
      <button
        type="submit"
        className="button button-main self-start"
        disabled={busy || !work.may("prepare.banks")}
      >
        Use this coding
      </button>
    </form>
  );
}
