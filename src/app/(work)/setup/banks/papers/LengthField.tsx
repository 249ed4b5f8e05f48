"use client";
import { millimetreText, readMillimetres } from "@/core/banks";
import { FigureField } from "@/ui/FigureField";
import { useState } from "react";

/** A length in millimetres: what cannot be read stays in the field and changes nothing. */
export function LengthField({
  id,
  label,
  value,
  disabled,
  onChange,
}: {
  id: string;
  label: string;
  /** Tenths of a millimetre. */
  value: number;
  disabled: boolean;
  onChange: (tenths: number) => void;
}) {
  const [odd, setOdd] = useState<string | null>(null);
  return (
    <div className="min-w-0">
      <label className="label" htmlFor={id}>
        {label}
      </label>
      <FigureField
        id={id}
        inputMode="decimal"
        className="field text-right"
        disabled={disabled}
        aria-invalid={odd === null ? undefined : true}
        aria-describedby={odd === null ? undefined : `${id}-problem`}
        value={odd ?? millimetreText(value)}
        onChange={(text) => {
          const read = readMillimetres(text);
          setOdd(read === null ? text : null);
          if (read !== null) onChange(read);
        }}
        onLeave={() => setOdd(null)}
      />
      {odd !== null && (
        <p id={`${id}-problem`} className="pt-0.5 text-xs text-coral">
          Millimetres, to a tenth: 15.5
        </p>
      )}
    </div>
  );
}
