"use client";
import { useEffect, useState } from "react";
import { useWork } from "@/ui/frame/work";
import { AsKnown } from "@/ui/AsKnown";
import { ExportMenu } from "../../statements/[code]/StatementActions";
import { dimensionValues } from "./actions";

export function TrialBalanceActions({
  withClosing,
  value,
  beside,
}: {
  withClosing: boolean;
  value: string;
  beside: boolean;
}) {
  const work = useWork();
  const [values, setValues] = useState<{ key: string; text: string }[]>([]);
  useEffect(() => void dimensionValues().then(setValues), []);
  const tick = (key: string, on: boolean, text: string, title: string) => (
    <label className="flex items-center gap-1.5 whitespace-nowrap text-ink-2" title={title}>
      <input
        type="checkbox"
        checked={on}
        onChange={(e) => work.go({ [key]: e.target.checked ? "1" : null, trace: null })}
      />
      {text}
    </label>
  );
  const zeros =
    typeof window !== "undefined" &&
    new URLSearchParams(window.location.search).get("zeros") === "1";
  return (
    <>
      {tick("zeros", zeros, "Zero lines", "Accounts without any figure")}
      {tick(
        "closing",
        withClosing,
        "Year-end closing",
        "With the journals that carry the result to retained earnings",
      )}
      {tick("beside", beside, "Companies", "Every company beside the others")}
      <select
        aria-label="Dimension value"
        className="field w-44"
        value={value}
        onChange={(e) => work.go({ value: e.target.value || null, trace: null })}
      >
        <option value="">All cost centres</option>
        {values.map((v) => (
          <option key={v.key} value={v.key}>
            {v.text}
          </option>
        ))}
      </select>
      <AsKnown changes />
      <ExportMenu
        path="/export/trial-balance"
        formats={["csv", "xlsx", "pdf"]}
        more={{ closing: withClosing ? "1" : null, value: value || null }}
      />
    </>
  );
}
