"use client";
import { COPY_SIGNATURES, SHEET_NAMES, SHEETS, type PaperKind, type Sheet } from "@/core/banks";
import { LengthField } from "./LengthField";
import type { PaperState } from "./usePaper";

const SIGNATURES: Readonly<Record<(typeof COPY_SIGNATURES)[number], string>> = {
  "left out": "without the signature",
  "struck out": "with the signature struck out",
};

/** The paper itself, its numbers, and what copies look like. */
export function PaperSettings({
  paper,
  kind,
  mayChange,
}: {
  paper: PaperState;
  kind: PaperKind;
  mayChange: boolean;
}) {
  const { layout, set } = paper;
  const check = (id: "blank" | "reuseSpoilt" | "copyMagnetic", label: string) => (
    <label className="flex items-center gap-2 py-0.5" htmlFor={id}>
      <input
        id={id}
        type="checkbox"
        checked={layout[id]}
        onChange={(e) => set({ [id]: e.target.checked })}
      />
      {label}
    </label>
  );
  return (
    <fieldset className="panel grid gap-2 px-3 py-2.5" disabled={!mayChange}>
      <legend className="sr-only">Paper, numbers and copies</legend>
      <div>
        <label className="label" htmlFor="sheet">
          Paper
        </label>
        <select
          id="sheet"
          className="field"
          value={layout.sheet}
          onChange={(e) => {
            const sheet = e.target.value as Sheet;
            set({ sheet, ...SHEETS[sheet] });
          }}
        >
          {(Object.keys(SHEETS) as Sheet[]).map((s) => (
            <option key={s} value={s}>
              {SHEET_NAMES[s]}
            </option>
          ))}
        </select>
      </div>
      {layout.sheet === "own" && (
        <div className="grid grid-cols-2 gap-2">
          <LengthField
            id="paper-width"
            label="Width, mm"
            value={layout.width}
            disabled={!mayChange}
            onChange={(width) => set({ width })}
          />
          <LengthField
            id="paper-height"
            label="Height, mm"
            value={layout.height}
            disabled={!mayChange}
            onChange={(height) => set({ height })}
          />
        </div>
      )}
      {check("blank", "Blank paper: lines and captions are printed too")}
      <label className="flex items-center gap-2 py-0.5" htmlFor="with-list">
        <input
          id="with-list"
          type="checkbox"
          checked={layout.listFrom !== null}
          onChange={(e) =>
            set({ listFrom: e.target.checked ? Math.round(layout.height / 30) * 10 : null })
          }
        />
        The items that it pays stand below
      </label>
      {layout.listFrom !== null && (
        <LengthField
          id="list-from"
          label="They begin, mm from the top"
          value={layout.listFrom}
          disabled={!mayChange}
          onChange={(listFrom) => set({ listFrom })}
        />
      )}
      {kind === "cheque" && (
        <div>
          <label className="label" htmlFor="numbers">
            Numbers
          </label>
          <select
            id="numbers"
            className="field"
            value={layout.numbers}
            onChange={(e) => set({ numbers: e.target.value as "free" | "series" })}
          >
            <option value="free">are read off the paper in hand</option>
            <option value="series">go on from the last one by themselves</option>
          </select>
          {layout.numbers === "series" &&
            check("reuseSpoilt", "The number of a spoilt form is given again")}
        </div>
      )}
      <div className="grid grid-cols-2 gap-2">
        <div>
          <label className="label" htmlFor="copy-mark">
            Across a copy stands
          </label>
          <input
            id="copy-mark"
            className="field"
            maxLength={20}
            value={layout.copyMark}
            onChange={(e) => set({ copyMark: e.target.value })}
          />
        </div>
        <div>
          <label className="label" htmlFor="copy-signature">
            Copies come
          </label>
          <select
            id="copy-signature"
            className="field"
            value={layout.copySignature}
            onChange={(e) =>
              set({ copySignature: e.target.value as (typeof COPY_SIGNATURES)[number] })
            }
          >
            {COPY_SIGNATURES.map((s) => (
              <option key={s} value={s}>
                {SIGNATURES[s]}
              </option>
            ))}
          </select>
        </div>
      </div>
      {kind === "cheque" && check("copyMagnetic", "Copies carry the magnetic line")}
    </fieldset>
  );
}
