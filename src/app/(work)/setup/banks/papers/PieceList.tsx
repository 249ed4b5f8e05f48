"use client";
import { PIECE_RULES, type PaperKind, type Piece } from "@/core/banks";
import { LengthField } from "./LengthField";
import type { PaperState } from "./usePaper";

/** What stands on the paper: a mark for each piece, and the place of the one that is chosen. */
export function PieceList({
  paper,
  kind,
  mayChange,
}: {
  paper: PaperState;
  kind: PaperKind;
  mayChange: boolean;
}) {
  const { layout, chosen } = paper;
  return (
    <fieldset className="panel px-3 py-2.5" disabled={!mayChange}>
      <legend className="sr-only">What stands on the paper</legend>
      <h2 className="pb-1.5">What stands on it</h2>
      <ul>
        {paper.all.map((piece) => {
          const on = layout.pieces.find((p) => p.piece === piece);
          const { name, needed } = PIECE_RULES[piece];
          return (
            <li key={piece} className="py-[3px]">
              <div className="flex items-center gap-2">
                <input
                  id={`on-${piece}`}
                  type="checkbox"
                  checked={on !== undefined}
                  onChange={(e) => paper.show(piece, e.target.checked)}
                />
                <label
                  htmlFor={`on-${piece}`}
                  className={needed.includes(kind) ? "font-semibold" : ""}
                >
                  {name}
                </label>
                {on && chosen !== piece && (
                  <button
                    type="button"
                    className="link ml-auto"
                    onClick={() => paper.setChosen(piece)}
                    aria-label={`Place of ${name}`}
                  >
                    Place
                  </button>
                )}
              </div>
              {on && chosen === piece && (
                <PlaceOf piece={piece} paper={paper} mayChange={mayChange} />
              )}
            </li>
          );
        })}
      </ul>
    </fieldset>
  );
}

function PlaceOf({
  piece,
  paper,
  mayChange,
}: {
  piece: Piece;
  paper: PaperState;
  mayChange: boolean;
}) {
  const at = paper.layout.pieces.findIndex((p) => p.piece === piece);
  const placed = paper.layout.pieces[at]!;
  const faults = paper.problems.filter((p) => p.field.startsWith(`pieces.${at}.`));
  return (
    <div className="grid grid-cols-5 gap-1.5 pb-1.5 pl-5 pt-1">
      {(
        [
          ["x", "Left"],
          ["y", "Top"],
          ["width", "Width"],
          ["height", "Height"],
        ] as const
      ).map(([side, label]) => (
        <LengthField
          key={side}
          id={`place-${side}`}
          label={`${label}, mm`}
          value={placed[side]}
          disabled={!mayChange}
          onChange={(tenths) => paper.setPiece(piece, { [side]: tenths })}
        />
      ))}
      <div>
        <label className="label" htmlFor="place-size">
          Points
        </label>
        <input
          id="place-size"
          type="number"
          min={5}
          max={40}
          className="field text-right"
          value={placed.size}
          disabled={!mayChange}
          onChange={(e) => {
            const size = e.target.valueAsNumber;
            if (size >= 5 && size <= 40) paper.setPiece(piece, { size });
          }}
        />
      </div>
      {faults.map((f) => (
        <p key={f.what} className="col-span-5 text-xs text-coral">
          {f.what}
        </p>
      ))}
    </div>
  );
}
