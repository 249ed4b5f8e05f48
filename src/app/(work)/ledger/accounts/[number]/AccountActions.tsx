"use client";
import { useEffect, useState } from "react";
import { BarChart3 } from "lucide-react";
import { useWork } from "@/ui/frame/work";
import { dimensionValues } from "../../trial-balance/actions";

/** What else the account can be looked at by: a dimension value, a chart of the months, a T. */
export function AccountActions({ value, chart, asT }: { value: string; chart: boolean; asT: boolean }) {
  const work = useWork();
  const [values, setValues] = useState<{ key: string; text: string }[]>([]);
  useEffect(() => void dimensionValues().then(setValues), []);
  return (
    <>
      <select aria-label="Dimension value" className="field w-44" value={value} onChange={(e) => work.go({ value: e.target.value || null, trace: null })}>
        <option value="">All values</option>
        {values.map((v) => <option key={v.key} value={v.key}>{v.text}</option>)}
      </select>
      <button type="button" className="button" aria-pressed={chart} onClick={() => work.go({ chart: chart ? null : "1" })}><BarChart3 size={15} aria-hidden />Chart</button>
      <button type="button" className="button" aria-pressed={asT} onClick={() => work.go({ as: asT ? null : "t" })}>{asT ? "As lines" : "As a T"}</button>
    </>
  );
}
