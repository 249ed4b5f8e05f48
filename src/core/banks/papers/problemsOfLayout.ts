import { PAPER_NAMES, PIECE_RULES, piecesOf, type PaperKind } from "./pieces";
import type { PaperLayout, PlacedPiece } from "./layout";

/** What is wrong with a layout, and at which field of it. */
export interface LayoutProblem {
  field: string;
  what: string;
}

const meet = (a: PlacedPiece, b: PlacedPiece): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/**
 * What keeps a layout from being used: a piece that is there twice, that the kind of paper does not
 * have or that it lacks; one that is cut off by the edge; anything that a magnetic reader would meet
 * beside its line (ISO 1004 wants the band of the line clear); a list that begins over a piece.
 */
export function problemsOfLayout(kind: PaperKind, layout: PaperLayout): LayoutProblem[] {
  const problems: LayoutProblem[] = [];
  const allowed = piecesOf(kind);
  const name = (p: PlacedPiece) => PIECE_RULES[p.piece].name;
  layout.pieces.forEach((p, i) => {
    const at = (field: string, what: string) =>
      problems.push({ field: `pieces.${i}.${field}`, what });
    if (!allowed.includes(p.piece))
      at("piece", `${name(p)} is nothing that stands on a ${PAPER_NAMES[kind].toLowerCase()}`);
    if (layout.pieces.findIndex((o) => o.piece === p.piece) < i)
      at("piece", `${name(p)} is there twice`);
    if (p.x + p.width > layout.width) at("x", `${name(p)} goes over the right edge of the paper`);
    if (p.y + p.height > layout.height) at("y", `${name(p)} goes over the lower edge of the paper`);
    if (layout.listFrom !== null && p.y + p.height > layout.listFrom)
      at("y", `${name(p)} lies where the list of what is paid begins`);
  });
  for (const piece of allowed)
    if (
      PIECE_RULES[piece].needed.includes(kind) &&
      !layout.pieces.some((p) => p.piece === piece) &&
      // What is printed on the paper already is not ours to place.
      layout.blank
    )
      problems.push({
        field: "pieces",
        what: `${PIECE_RULES[piece].name} is missing: no ${PAPER_NAMES[kind].toLowerCase()} is one without it`,
      });
  const magnetic = layout.pieces.find((p) => p.piece === "magnetic");
  if (magnetic)
    layout.pieces.forEach((p, i) => {
      if (p !== magnetic && meet({ ...magnetic, x: 0, width: layout.width }, p))
        problems.push({
          field: `pieces.${i}.y`,
          what: `${name(p)} lies in the band of the magnetic line, which has to be clear`,
        });
    });
  if (layout.listFrom !== null && layout.listFrom > layout.height - 300)
    problems.push({
      field: "listFrom",
      what: "The list of what is paid has less than 30 mm left",
    });
  return problems;
}
