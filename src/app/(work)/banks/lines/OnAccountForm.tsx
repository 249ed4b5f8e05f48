"use client";
import { useState } from "react";
import type { PartnerChoice, StatementLineView } from "@/server/banks";
import { partnersForLineAction } from "./actions";
import { useFound } from "./useFound";

/** Keeps the line as a whole on a partner's account, for items that come later. */
export function OnAccountForm({
  line,
  busy,
  onDecide,
}: {
  line: StatementLineView;
  busy: boolean;
  onDecide: (decision: Record<string, unknown>) => void;
}) {
  const [text, setText] = useState(line.party.name.split(" ")[0] ?? "");
  const { found, message } = useFound<PartnerChoice>(() => partnersForLineAction(text), text);
  const choose = (p: PartnerChoice) => onDecide({ onAccount: true, partner: p.code });
  return (
    <div className="flex flex-col gap-2">
      <p className="text-ink-2">
        Keep it on a partner’s account until an invoice comes that it belongs to.
      </p>
      <input
        className="field"
        aria-label="Look for a partner"
        placeholder="Code or name"
        autoFocus
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          const [only, ...more] = found ?? [];
          if (e.key === "Enter" && only && more.length === 0 && !busy) choose(only);
        }}
      />
      {message && <p className="text-coral">{message}</p>}
      <ul className="flex max-h-72 flex-col overflow-y-auto" aria-label="Partners">
        {found?.map((p) => (
          <li key={p.code} className="border-t border-line">
            <button
              type="button"
              className="flex w-full items-baseline gap-2 px-1 py-1 text-left text-[12.5px] hover:bg-shade"
              disabled={busy}
              onClick={() => choose(p)}
            >
              <b className="font-semibold">{p.code}</b>
              <span className="min-w-0 flex-1 truncate">{p.name}</span>
              <span className="text-ink-2">{rolesOf(p)}</span>
            </button>
          </li>
        ))}
        {found?.length === 0 && !message && (
          <li className="text-ink-2">No partner is called that.</li>
        )}
      </ul>
    </div>
  );
}

const rolesOf = (p: PartnerChoice): string =>
  [p.customer && "customer", p.supplier && "supplier"].filter(Boolean).join(", ");
