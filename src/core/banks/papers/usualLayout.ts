import { SHEETS, type PaperLayout, type PlacedPiece } from "./layout";
import type { PaperKind, Piece } from "./pieces";

type Place = readonly [
  piece: Piece,
  x: number,
  y: number,
  width: number,
  height: number,
  size: number,
];

/** Lengths in tenths of a millimetre, sizes of letters in points. */
const CHEQUE: readonly Place[] = [
  ["company", 150, 110, 1200, 65, 13],
  ["bankName", 150, 180, 1200, 45, 9],
  ["number", 1620, 110, 330, 60, 11],
  ["date", 1620, 180, 330, 50, 10],
  ["payee", 260, 310, 1250, 70, 13],
  ["figures", 1560, 295, 390, 85, 11],
  ["words", 150, 420, 1780, 110, 10],
  ["signature", 1340, 545, 610, 180, 8],
  ["magnetic", 150, 790, 1500, 65, 10],
];

const DRAFT: readonly Place[] = [
  ["company", 150, 110, 1000, 65, 13],
  ["number", 1500, 110, 450, 55, 10],
  ["place", 150, 220, 600, 55, 10],
  ["date", 800, 220, 500, 55, 10],
  ["dueDate", 1400, 220, 550, 55, 10],
  ["clause", 150, 320, 1250, 110, 10],
  ["figures", 1480, 330, 470, 85, 11],
  ["payee", 260, 450, 1690, 70, 13],
  ["words", 150, 550, 1800, 110, 10],
  ["payableAt", 150, 690, 1000, 110, 9],
  ["signature", 1340, 810, 610, 180, 8],
];

const PLACES: Readonly<Record<PaperKind, readonly Place[]>> = {
  cheque: CHEQUE,
  bill: [...DRAFT, ["drawee", 240, 830, 800, 160, 10], ["acceptance", 150, 1010, 800, 150, 8]],
  note: DRAFT,
};

const placed = ([piece, x, y, width, height, size]: Place): PlacedPiece => ({
  piece,
  x,
  y,
  width,
  height,
  size,
});

/** How a paper looks where nobody has set it up: A4, the paper above and what it pays below. */
export const usualLayout = (kind: PaperKind): PaperLayout => ({
  sheet: "A4",
  ...SHEETS.A4,
  pieces: PLACES[kind].map(placed),
  blank: true,
  listFrom: kind === "cheque" ? 925 : 1240,
  copyMark: "COPY",
  copySignature: "left out",
  copyMagnetic: false,
  numbers: "free",
  reuseSpoilt: false,
});
