"use client";
import {
  DndContext,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from "@dnd-kit/core";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import {
  captionOf,
  magneticLine,
  millimetreText,
  PIECE_RULES,
  type PaperKind,
  type Piece,
  type PlacedPiece,
} from "@/core/banks";
import { shownFigures } from "@/ui/writing";
import type { PaperState } from "./usePaper";

/** By how much an arrow moves a piece, in tenths of a millimetre. */
const STEP = 10;
const FINE = 1;
/** Millimetres of a point. */
const POINT = 25.4 / 72;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * The paper with its pieces, each dragged by the mouse or moved by the arrows: in whole millimetres,
 * with Shift in tenths, and in line with other pieces where it comes near.
 */
export function PaperSheet({
  paper,
  kind,
  words,
  mayChange,
}: {
  paper: PaperState;
  kind: PaperKind;
  words: Readonly<Partial<Record<Piece, string>>>;
  mayChange: boolean;
}) {
  const { layout, move, undo } = paper;
  const host = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(800);
  useEffect(() => {
    const at = host.current!;
    const seen = new ResizeObserver(() => setRoom(at.clientWidth));
    seen.observe(at);
    return () => seen.disconnect();
  }, []);
  /** Pixels of a tenth of a millimetre. */
  const scale = room / layout.width;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 3 } }));
  const dropped = ({ active, delta }: DragEndEvent) =>
    move(active.id as Piece, { x: delta.x / scale, y: delta.y / scale }, true);
  const onKey = (event: KeyboardEvent, piece: Piece) => {
    const arrow = ARROWS[event.key];
    if (!arrow || event.ctrlKey || event.altKey || event.metaKey) return;
    event.preventDefault();
    const by = event.shiftKey ? FINE : STEP;
    move(piece, { x: arrow[0] * by, y: arrow[1] * by }, false);
  };
  return (
    <div
      ref={host}
      className="w-full"
      onKeyDown={(e) => {
        if (e.key !== "z" || !(e.ctrlKey || e.metaKey)) return;
        e.preventDefault();
        undo();
      }}
    >
      <DndContext id="paper" sensors={sensors} onDragEnd={dropped}>
        <div
          className="relative overflow-hidden rounded border border-rule bg-white text-[#0d2b33]"
          style={{ width: layout.width * scale, height: layout.height * scale }}
        >
          {layout.listFrom !== null && (
            <div
              className="absolute inset-x-0 border-t border-dashed border-[#6d8790] px-2 pt-1 text-xs text-[#41606a]"
              style={{ top: layout.listFrom * scale }}
            >
              From here on: what is paid
            </div>
          )}
          {layout.pieces.map((p) => (
            <PieceBox
              key={p.piece}
              placed={p}
              scale={scale}
              text={words[p.piece] ?? ""}
              caption={layout.blank ? captionOf(p.piece, kind) : ""}
              isChosen={paper.chosen === p.piece}
              isFaulty={paper.problems.some(
                (x) => layout.pieces[Number(x.field.split(".")[1])] === p,
              )}
              mayChange={mayChange}
              onChoose={() => paper.setChosen(p.piece)}
              onKey={(e) => onKey(e, p.piece)}
            />
          ))}
        </div>
      </DndContext>
    </div>
  );
}

function PieceBox({
  placed,
  scale,
  text,
  caption,
  isChosen,
  isFaulty,
  mayChange,
  onChoose,
  onKey,
}: {
  placed: PlacedPiece;
  scale: number;
  text: string;
  caption: string;
  isChosen: boolean;
  isFaulty: boolean;
  mayChange: boolean;
  onChoose: () => void;
  onKey: (event: KeyboardEvent) => void;
}) {
  const { name } = PIECE_RULES[placed.piece];
  const { setNodeRef, listeners, transform } = useDraggable({
    id: placed.piece,
    disabled: !mayChange,
  });
  const picture = ["logo", "signature", "acceptance"].includes(placed.piece);
  const edge = isFaulty
    ? "border-[#b8402a] bg-[#fbe9e4]"
    : isChosen
      ? "border-[#0b7285] bg-[#e1f1f3]"
      : "border-[#bccdd0] bg-transparent";
  return (
    <button
      ref={setNodeRef}
      type="button"
      id={`piece-${placed.piece}`}
      aria-label={`${name}: ${shownFigures(millimetreText(placed.x))} mm from the left, ${shownFigures(millimetreText(placed.y))} mm from the top`}
      aria-pressed={isChosen}
      className={`absolute flex items-start gap-1 overflow-hidden border border-dashed text-left leading-tight focus-visible:outline-2 focus-visible:outline-[#0b7285] ${edge} ${mayChange ? "cursor-move" : ""}`}
      style={{
        left: placed.x * scale + (transform?.x ?? 0),
        top: placed.y * scale + (transform?.y ?? 0),
        width: placed.width * scale,
        height: placed.height * scale,
        fontSize: placed.size * POINT * 10 * scale,
      }}
      {...listeners}
      onPointerDown={(e) => {
        onChoose();
        listeners?.onPointerDown?.(e);
      }}
      onFocus={onChoose}
      onKeyDown={mayChange ? onKey : undefined}
    >
      {picture ? (
        <span className="m-auto text-[#41606a]">{name}</span>
      ) : placed.piece === "magnetic" ? (
        <Magnetic scale={scale} />
      ) : (
        <>
          {caption !== "" && <span className="text-[0.75em] text-[#41606a]">{caption}</span>}
          <span className="whitespace-pre-line">{text || name}</span>
        </>
      )}
    </button>
  );
}

/** The line as it is drawn; what it says here is made up. */
function Magnetic({ scale }: { scale: number }) {
  const shapes = magneticLine("U001042U T990017T 12345678U");
  const inTenths = 254 / 72;
  return (
    <svg aria-hidden="true" className="h-full w-full" preserveAspectRatio="xMinYMin">
      {shapes.map((s, i) => (
        <rect
          key={i}
          x={s.x * inTenths * scale}
          y={s.y * inTenths * scale}
          width={s.width * inTenths * scale}
          height={s.height * inTenths * scale}
          fill="#0d2b33"
        />
      ))}
    </svg>
  );
}
