import type { PaperLayout, PlacedPiece } from "./layout";
import type { Piece } from "./pieces";

/** Within this a piece jumps to the edge of another one; else to whole millimetres. */
const NEAR = 15;
const GRID = 10;

const held = (at: number, most: number): number => Math.max(0, Math.min(at, Math.max(0, most)));

/** Where an edge comes to lie: at one of the others that is near, else on the grid. */
function snapped(at: number, size: number, edges: readonly number[]): number {
  const starts = edges.flatMap((e) => [e, e - size]);
  const best = starts.reduce<number | null>(
    (near, s) =>
      Math.abs(s - at) <= NEAR && (near === null || Math.abs(s - at) < Math.abs(near - at))
        ? s
        : near,
    null,
  );
  return best ?? Math.round(at / GRID) * GRID;
}

/**
 * Where a piece lies once it was moved: within the paper, and, with `snap`, in line with the edges of
 * the pieces beside it or on whole millimetres.
 * Units: tenths of a millimetre.
 */
export function movePiece(
  layout: PaperLayout,
  piece: Piece,
  by: { x: number; y: number },
  snap: boolean,
): PlacedPiece | null {
  const moved = layout.pieces.find((p) => p.piece === piece);
  if (!moved) return null;
  const others = layout.pieces.filter((p) => p !== moved);
  const along = (axis: "x" | "y", side: "width" | "height"): number => {
    const to = Math.round(moved[axis] + by[axis]);
    // What was not moved that way stays where it is.
    if (by[axis] === 0) return moved[axis];
    const at = snap
      ? snapped(
          to,
          moved[side],
          others.flatMap((o) => [o[axis], o[axis] + o[side]]),
        )
      : to;
    return held(at, layout[side] - moved[side]);
  };
  return { ...moved, x: along("x", "width"), y: along("y", "height") };
}
