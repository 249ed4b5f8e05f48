"use client";
import { useEffect, useState } from "react";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { BarChart3, Building2 } from "lucide-react";
import { useWork } from "@/ui/frame/work";
import { dimensionValues } from "../../trial-balance/actions";
import { AccountPicker } from "./AccountPicker";

export interface AccountQuestion {
  accounts: string;
  companies: string[];
  values: string[];
  amounts: "total" | "currency";
  of: "actual" | "plan" | "commitments";
  scale: 1 | 1000 | 1000000;
  chart: boolean;
  asT: boolean;
}

/** What is asked of the accounts. Each change answers at once; the address holds the question. */
export function AccountBar({ question }: { question: AccountQuestion }) {
  const work = useWork();
  const [values, setValues] = useState<{ key: string; text: string }[]>([]);
  useEffect(() => void dimensionValues().then(setValues), []);
  const valueOf = (dimension: string) =>
    question.values.find((v) => v.startsWith(`${dimension}:`)) ?? "";
  const setValue = (dimension: string, value: string) =>
    work.go({
      value:
        [...question.values.filter((v) => !v.startsWith(`${dimension}:`)), value]
          .filter(Boolean)
          .join(",") || null,
      trace: null,
      beside: null,
    });
  const toggle = (code: string, on: boolean) => {
    const next = work.companies
      .map((c) => c.code)
      .filter((c) => (c === code ? on : question.companies.includes(c)));
    work.go({
      companies:
        next.length === 0 || (next.length === 1 && next[0] === work.place.company)
          ? null
          : next.join(","),
      trace: null,
      beside: null,
    });
  };
  return (
    <div
      role="group"
      aria-label="What is asked"
      className="no-print flex shrink-0 flex-wrap items-center gap-2"
    >
      <AccountPicker accounts={question.accounts} />
      {work.companies.length > 1 && (
        <Popover>
          <PopoverButton className="button" aria-label="Companies">
            <Building2 size={15} aria-hidden />
            {question.companies.length === work.companies.length
              ? "All companies"
              : question.companies.join(", ")}
          </PopoverButton>
          <PopoverPanel
            anchor="bottom start"
            className="z-30 w-64 rounded-lg border border-line bg-panel p-3 shadow-[0_10px_30px_#0b2f3a2b]"
          >
            {work.companies.map((c) => (
              <label key={c.code} className="flex items-center gap-2 py-0.5">
                <input
                  type="checkbox"
                  checked={question.companies.includes(c.code)}
                  onChange={(e) => toggle(c.code, e.target.checked)}
                />
                {c.code} {c.name}
              </label>
            ))}
          </PopoverPanel>
        </Popover>
      )}
      {work.dimensions.map((d) => (
        <select
          key={d.code}
          aria-label={d.name}
          className="field w-36"
          value={valueOf(d.code)}
          onChange={(e) => setValue(d.code, e.target.value)}
        >
          <option value="">{d.name}: all</option>
          {values
            .filter((v) => v.key.startsWith(`${d.code}:`))
            .map((v) => (
              <option key={v.key} value={v.key}>
                {v.text}
              </option>
            ))}
        </select>
      ))}
      <select
        aria-label="Amounts"
        className="field w-auto"
        value={question.amounts}
        onChange={(e) =>
          work.go({ amounts: e.target.value === "total" ? null : e.target.value, trace: null })
        }
      >
        <option value="total">in functional currency</option>
        <option value="currency">by currency</option>
      </select>
      <select
        aria-label="Of what"
        className="field w-auto"
        value={question.of}
        onChange={(e) =>
          work.go({ of: e.target.value === "actual" ? null : e.target.value, trace: null })
        }
      >
        <option value="actual">Actual</option>
        <option value="plan">Plan</option>
        <option value="commitments">Commitments</option>
      </select>
      <select
        aria-label="Scale"
        className="field w-auto"
        value={question.scale}
        onChange={(e) => work.go({ scale: e.target.value === "1" ? null : e.target.value })}
      >
        <option value={1}>to the cent</option>
        <option value={1000}>in thousands</option>
        <option value={1000000}>in millions</option>
      </select>
    </div>
  );
}

/** The same answer as a chart of the months, and as a T. */
export function AccountViews({ question }: { question: AccountQuestion }) {
  const work = useWork();
  return (
    <>
      <button
        type="button"
        className="button"
        aria-pressed={question.chart}
        onClick={() => work.go({ chart: question.chart ? null : "1" })}
      >
        <BarChart3 size={15} aria-hidden />
        Chart
      </button>
      <button
        type="button"
        className="button"
        aria-pressed={question.asT}
        onClick={() => work.go({ as: question.asT ? null : "t" })}
      >
        {question.asT ? "As lines" : "As a T"}
      </button>
    </>
  );
}
