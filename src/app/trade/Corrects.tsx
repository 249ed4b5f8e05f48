"use client";
import { useEffect, useState } from "react";
import type { Answer } from "@/app/lib/answer";
import { Field } from "@/ui/Field";
import { shownDate } from "@/ui/writing";

/** A posted invoice that can be corrected. */
export interface CorrectableInvoice<L> {
  id: number;
  number: string;
  date: string;
  /** The supplier's own number. */
  supplierNumber?: string;
  lines: L[];
  /** Whether it asked for a prepayment. */
  prepayment?: boolean;
}

interface Props<L> {
  company: string;
  partner: string;
  value: string;
  problem: string | undefined;
  find: (company: string, partner: string) => Promise<Answer<CorrectableInvoice<L>[]>>;
  onChange: (value: string) => void;
  onTakeLines: (chosen: CorrectableInvoice<L>) => void;
}

/** The invoice that a credit note corrects, chosen among the partner's; its lines can be taken. */
export function Corrects<L>({
  company,
  partner,
  value,
  problem,
  find,
  onChange,
  onTakeLines,
}: Props<L>) {
  const [found, setFound] = useState<{ of: string; list: CorrectableInvoice<L>[] }>({
    of: "",
    list: [],
  });
  const of = `${company} ${partner}`;
  useEffect(() => {
    if (!partner) return;
    let current = true;
    void find(company, partner).then(
      (result) => current && result.ok && setFound({ of, list: result.value }),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [company, partner, of, find]);
  const list = found.of === of ? found.list : [];
  const written = value.trim().toUpperCase();
  const chosen = list.find(
    (i) => i.number.toUpperCase() === written || i.supplierNumber?.toUpperCase() === written,
  );
  return (
    <>
      <Field id="i-corrects" label="Corrects invoice" problem={problem} width="w-40">
        {(p) => (
          <>
            <input
              {...p}
              className="field"
              list="correctable"
              value={value}
              placeholder="Number, where it has one"
              onChange={(e) => onChange(e.target.value)}
            />
            <datalist id="correctable">
              {list.map((i) => (
                <option key={i.id} value={i.number}>
                  {[i.supplierNumber, shownDate(i.date)].filter(Boolean).join(", ")}
                </option>
              ))}
            </datalist>
          </>
        )}
      </Field>
      {chosen && (
        <button
          type="button"
          className="button mt-[18px] h-[30px] self-start"
          onClick={() => onTakeLines(chosen)}
        >
          Take its lines
        </button>
      )}
    </>
  );
}
