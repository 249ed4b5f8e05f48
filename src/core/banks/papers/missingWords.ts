import type { PaperLayout } from "./layout";
import { PIECE_RULES, type PaperKind, type Piece } from "./pieces";

/**
 * What a paper would be printed without though it is none without it: pieces that the law or custom
 * wants, that the layout places, and that have nothing to say. By their names.
 */
export const missingWords = (
  kind: PaperKind,
  layout: Pick<PaperLayout, "pieces">,
  words: Readonly<Partial<Record<Piece, string>>>,
): string[] =>
  layout.pieces
    .filter(({ piece }) => PIECE_RULES[piece].needed.includes(kind) && words[piece]?.trim() === "")
    .map(({ piece }) => PIECE_RULES[piece].name);
