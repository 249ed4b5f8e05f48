"use client";
import { useEffect, useState } from "react";
import type { InvoiceInput } from "@/core/payables";
import type { Correctable } from "@/server/payables";
import { Field } from "@/ui/Field";
import { correctableInvoicesAction } from "../actions";
import { shownDate } from "@/ui/writing";

interface Props {
  company: string;
  supplier: string;
  value: string;
  problem: string | undefined;
  onChange: (value: string) => void;
  onTakeLines: (lines: InvoiceInput["lines"]) => void;
}

/** The invoice that a credit note corrects, chosen among the supplier's; its lines can be taken. */
export function Corrects({ company, supplier, value, problem, onChange, onTakeLines }: Props) {
  const [found, setFound] = useState<{ of: string; list: Correctable[] }>({ of: "", list: [] });
  const of = `${company} ${supplier}`;
  useEffect(() => {
    if (!supplier) return;
    let current = true;
    void correctableInvoicesAction(company, supplier).then(
      (result) => current && result.ok && setFound({ of, list: result.value }),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [company, supplier, of]);
  const list = found.of === of ? found.list : [];
  const written = value.trim().toUpperCase();
  const chosen = list.find(
    (i) => i.number.toUpperCase() === written || i.supplierNumber.toUpperCase() === written,
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
                  {i.supplierNumber}, {shownDate(i.date)}
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
          onClick={() => onTakeLines(chosen.lines)}
        >
          Take its lines
        </button>
      )}
    </>
  );
}
