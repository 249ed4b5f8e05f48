"use client";
import { useState } from "react";
import {
  REASON_PLACES,
  REASON_RULE_NAMES,
  REASON_RULES,
  type ReasonPlace,
  type ReasonRule,
} from "@/core/documents";
import type { ReasonRules } from "@/server/documents";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { saveRecordAction } from "../actions";

const PLACES = Object.entries(REASON_PLACES) as [ReasonPlace, string][];
/** What is written off always wants a reason. */
const rulesOf = (place: ReasonPlace): readonly ReasonRule[] =>
  place === "writeOffs" ? REASON_RULES.filter((r) => r !== "optional") : REASON_RULES;

/** Where a reason is wanted, and of what sort. */
export function RulesOfReasons({ start, mayChange }: { start: ReasonRules; mayChange: boolean }) {
  const { busy, messages, act } = useAct();
  const [rules, setRules] = useState(start);
  const isChanged = PLACES.some(([place]) => rules[place] !== start[place]);
  return (
    <form
      className="panel flex flex-wrap items-end gap-x-3 gap-y-2 px-4 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void act(() => saveRecordAction("reasonRules", rules), "Saved.");
      }}
    >
      <p className="w-full">Whoever takes something back says why:</p>
      <Problems messages={messages} />
      {PLACES.map(([place, name]) => (
        <div key={place} className="w-56">
          <label className="label truncate" htmlFor={`rule-${place}`} title={name}>
            {name}
          </label>
          <select
            id={`rule-${place}`}
            className="field"
            disabled={!mayChange}
            value={rules[place]}
            onChange={(e) => setRules({ ...rules, [place]: e.target.value as ReasonRule })}
          >
            {rulesOf(place).map((r) => (
              <option key={r} value={r}>
                {REASON_RULE_NAMES[r]}
              </option>
            ))}
          </select>
        </div>
      ))}
      {mayChange && (
        <button type="submit" className="button" disabled={busy || !isChanged}>
          Save
        </button>
      )}
    </form>
  );
}
