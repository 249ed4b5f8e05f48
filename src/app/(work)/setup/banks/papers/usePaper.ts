import { useCallback, useMemo, useState } from "react";
import {
  movePiece,
  piecesOf,
  problemsOfLayout,
  usualLayout,
  type PaperKind,
  type PaperLayout,
  type Piece,
  type PlacedPiece,
} from "@/core/banks";

/** Where a piece comes that was not on the paper yet. */
const NEW_PLACE = { x: 150, y: 150, width: 600, height: 60, size: 10 };

/** A layout while it is changed: what is chosen, what is wrong with it, and the steps back. */
export function usePaper(kind: PaperKind, start: PaperLayout) {
  const [steps, setSteps] = useState<readonly PaperLayout[]>([start]);
  const [chosen, setChosen] = useState<Piece | null>(null);
  const layout = steps.at(-1)!;
  const problems = useMemo(() => problemsOfLayout(kind, layout), [kind, layout]);

  /** The next state; further strokes of the same kind take the place of the one before. */
  const change = useCallback((next: (now: PaperLayout) => PaperLayout) => {
    setSteps((all) => {
      const changed = next(all.at(-1)!);
      return changed === all.at(-1) ? all : [...all.slice(-100), changed];
    });
  }, []);
  const set = useCallback(
    (values: Partial<PaperLayout>) => change((now) => ({ ...now, ...values })),
    [change],
  );
  const setPiece = useCallback(
    (piece: Piece, values: Partial<PlacedPiece>) =>
      change((now) => ({
        ...now,
        pieces: now.pieces.map((p) => (p.piece === piece ? { ...p, ...values } : p)),
      })),
    [change],
  );
  const move = useCallback(
    (piece: Piece, by: { x: number; y: number }, snap: boolean) =>
      change((now) => {
        const to = movePiece(now, piece, by, snap);
        const was = now.pieces.find((p) => p.piece === piece);
        if (!to || !was || (to.x === was.x && to.y === was.y)) return now;
        return { ...now, pieces: now.pieces.map((p) => (p.piece === piece ? to : p)) };
      }),
    [change],
  );
  /** Puts a piece on the paper where it usually lies, or takes it off. */
  const show = useCallback(
    (piece: Piece, on: boolean) => {
      const usual = usualLayout(kind).pieces.find((p) => p.piece === piece);
      change((now) => ({
        ...now,
        pieces: on
          ? [...now.pieces, usual ?? { piece, ...NEW_PLACE }]
          : now.pieces.filter((p) => p.piece !== piece),
      }));
      setChosen(on ? piece : null);
    },
    [change, kind],
  );
  return {
    layout,
    chosen,
    setChosen,
    problems,
    all: piecesOf(kind),
    isChanged: steps.length > 1,
    undo: () => setSteps((all) => (all.length > 1 ? all.slice(0, -1) : all)),
    set,
    setPiece,
    move,
    show,
  };
}
export type PaperState = ReturnType<typeof usePaper>;
