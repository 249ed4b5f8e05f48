"use client";
import { useState } from "react";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { TYPED_RATES, type TypedRates } from "@/core/rates";
import type { RateLimits } from "@/server/rates";
import { saveRecordAction } from "../actions";

/** How old a spot rate may be when it is used: in common, and for single pairs. */
export function RateAge({ limits, mayChange }: { limits: RateLimits; mayChange: boolean }) {
  const router = useRouter();
  const [days, setDays] = useState(String(limits.days));
  const [typed, setTyped] = useState(limits.typed);
  const [pair, setPair] = useState("");
  const [pairDays, setPairDays] = useState("");
  const [problem, setProblem] = useState("");
  const save = async (values: {
    base: string;
    quote: string;
    days: string | null;
    typed: TypedRates;
  }) => {
    const result = await saveRecordAction("rateLimit", values).catch(() => null);
    setProblem(result?.ok ? "" : (result?.message ?? "The server did not answer. Try again."));
    if (!result?.ok) return;
    toast.success("Saved.");
    setPair("");
    setPairDays("");
    router.refresh();
  };
  const others = limits.pairs.map((p) => `${p.base}/${p.quote} ${p.days} days`).join(", ");
  if (!mayChange)
    return (
      <p className="text-ink-2">
        Spot rates may be used for {limits.days} days{others && `; ${others}`}; where none is
        younger, a rate that is typed is {limits.typed}.
      </p>
    );
  return (
    <form
      className="panel flex flex-wrap items-center gap-2 px-3 py-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (pair.trim() === "") return void save({ base: "", quote: "", days, typed });
        const [base = "", quote = ""] = pair.split(/[/\s]+/);
        void save({ base, quote, days: pairDays.trim() === "" ? null : pairDays, typed });
      }}
    >
      <label className="flex items-center gap-2">
        Spot rates may be used for
        <input
          className="field w-16 text-right"
          inputMode="numeric"
          value={days}
          onChange={(e) => setDays(e.target.value)}
        />
      </label>
      <span>days;</span>
      <label className="flex items-center gap-2">
        pair
        <input
          className="field w-28"
          placeholder="EUR/GBP"
          value={pair}
          onChange={(e) => setPair(e.target.value)}
        />
      </label>
      <label className="flex items-center gap-2">
        for
        <input
          className="field w-24 text-right"
          inputMode="numeric"
          placeholder="common"
          value={pairDays}
          onChange={(e) => setPairDays(e.target.value)}
        />
      </label>
      <span>days;</span>
      <label className="flex items-center gap-2">
        where none is younger, a typed rate is
        <select
          className="field w-28"
          value={typed}
          onChange={(e) => setTyped(e.target.value as TypedRates)}
        >
          {TYPED_RATES.map((t) => (
            <option key={t}>{t}</option>
          ))}
        </select>
      </label>
      <button type="submit" className="button">
        Save
      </button>
      {others && <span className="text-ink-2">Now: {others}.</span>}
      <span role="alert" className="text-coral">
        {problem}
      </span>
    </form>
  );
}
