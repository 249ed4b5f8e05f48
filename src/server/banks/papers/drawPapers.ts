import {
  captionOf,
  magneticLine,
  PIECE_RULES,
  type PaperKind,
  type PaperLayout,
  type Piece,
  type PlacedPiece,
} from "@/core/banks";
import { fail, ok, type Result } from "@/core/shared";
import { collected, INK, INK_2, pdfPen, type Pen } from "../../files";
import { drawList, type PaidList } from "./drawList";

/** A paper as it is drawn. */
export interface DrawnPaper {
  /** By which a message names it: "cheque 1041". */
  name: string;
  words: Readonly<Partial<Record<Piece, string>>>;
  /** Characters of the magnetic line; "" where it has none. */
  magnetic: string;
  /** Whether it has come out before, and whether it counts no more. */
  copy: boolean;
  void: boolean;
  list: PaidList | null;
}

/** Pictures on the papers of an account: null where there is none that can be drawn. */
export interface PaperPictures {
  signature: Buffer | null;
  logo: Buffer | null;
}

/** Points of a tenth of a millimetre. */
const UNIT = 7.2 / 25.4;
/** Letters get smaller where a text is long, down to this many points. */
const LEAST = 5;
const LEADING = 1.25;
const VOID = "VOID";

type Document = PDFKit.PDFDocument;

/**
 * Papers as one PDF, a page each, by the layout of their account. A text that does not fit even in
 * the smallest letters is refused: nothing of an amount may be cut off.
 */
export async function drawPapers(
  title: string,
  kind: PaperKind,
  layout: PaperLayout,
  pictures: PaperPictures,
  papers: readonly DrawnPaper[],
): Promise<Result<Uint8Array<ArrayBuffer>>> {
  const { default: PDFDocument } = await import("pdfkit");
  const document = new PDFDocument({
    size: [layout.width * UNIT, layout.height * UNIT],
    margin: 0,
    autoFirstPage: false,
    info: { Title: title, Creator: "Yellow Anchor" },
  });
  const pen = pdfPen(document);
  const finish = collected(document);
  const cut: string[] = [];
  for (const paper of papers) {
    document.addPage();
    for (const piece of layout.pieces)
      if (!drawPiece(document, pen, kind, layout, piece, paper, pictures))
        cut.push(`${PIECE_RULES[piece.piece].name} of ${paper.name}`);
    const mark = paper.void ? VOID : paper.copy ? layout.copyMark : "";
    if (mark !== "") drawMark(document, layout, mark);
    if (layout.listFrom !== null && paper.list !== null)
      drawList(document, pen, layout, paper.list);
  }
  const content = await finish();
  return cut.length === 0
    ? ok(content)
    : fail({
        code: "INVALID",
        what: `${cut[0]} does not fit where the layout of the account has room for it`,
      });
}

/** Draws a piece; false where its text does not fit. */
function drawPiece(
  document: Document,
  pen: Pen,
  kind: PaperKind,
  layout: PaperLayout,
  piece: PlacedPiece,
  paper: DrawnPaper,
  pictures: PaperPictures,
): boolean {
  const box = {
    x: piece.x * UNIT,
    y: piece.y * UNIT,
    width: piece.width * UNIT,
    height: piece.height * UNIT,
  };
  const original = !paper.copy && !paper.void;
  switch (piece.piece) {
    case "logo":
      if (pictures.logo)
        document.image(pictures.logo, box.x, box.y, { fit: [box.width, box.height] });
      return true;
    case "magnetic":
      if (original || (paper.copy && !paper.void && layout.copyMagnetic))
        for (const s of magneticLine(paper.magnetic))
          document.rect(box.x + s.x, box.y + s.y, s.width, s.height).fill("#000000");
      return true;
    case "signature":
      drawSignature(document, pen, layout, piece, box, paper, pictures.signature);
      return true;
    case "acceptance":
      if (layout.blank) {
        const caption = PIECE_RULES.acceptance.caption;
        pen.rule(box.x, box.y + box.height - 12, box.width, 0.5, INK);
        pen.write(caption, box.x, box.y + box.height - 10, { size: 7.5, colour: INK_2 });
      }
      return true;
    default: {
      const caption = layout.blank ? captionOf(piece.piece, kind) : "";
      const text = paper.words[piece.piece] ?? "";
      return drawWords(document, pen, layout, piece, box, { caption, text });
    }
  }
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

function drawSignature(
  document: Document,
  pen: Pen,
  layout: PaperLayout,
  piece: PlacedPiece,
  box: Box,
  paper: DrawnPaper,
  picture: Buffer | null,
): void {
  const foot = layout.blank ? 14 : 0;
  const room: [number, number] = [box.width, Math.max(1, box.height - foot)];
  const struck = !paper.void && paper.copy && layout.copySignature === "struck out";
  if (picture && !paper.void && (!paper.copy || struck))
    document.image(picture, box.x, box.y, { fit: room, align: "center", valign: "bottom" });
  if (struck)
    document
      .moveTo(box.x, box.y + room[1])
      .lineTo(box.x + box.width, box.y)
      .moveTo(box.x, box.y)
      .lineTo(box.x + box.width, box.y + room[1])
      .lineWidth(1.2)
      .strokeColor(INK)
      .stroke();
  if (!layout.blank) return;
  pen.rule(box.x, box.y + room[1] + 2, box.width, 0.5, INK);
  pen.write(PIECE_RULES.signature.caption, box.x, box.y + room[1] + 4, {
    size: Math.min(piece.size, 8),
    colour: INK_2,
  });
}

/** Words in their box, after what blank paper says before them; smaller where they are long. */
function drawWords(
  document: Document,
  pen: Pen,
  layout: PaperLayout,
  piece: PlacedPiece,
  box: Box,
  { caption, text }: { caption: string; text: string },
): boolean {
  if (layout.blank && piece.piece === "figures")
    document.rect(box.x, box.y, box.width, box.height).lineWidth(0.8).strokeColor(INK).stroke();
  if (layout.blank && piece.piece === "payee")
    pen.rule(box.x, box.y + box.height, box.width, 0.5, INK);
  const small = 7.5;
  const indent =
    (caption === "" ? 0 : pen.widthOf(caption, false, small) + 5) +
    (piece.piece === "figures" ? 4 : 0);
  const strong = ["company", "payee", "figures", "number"].includes(piece.piece);
  const room = box.width - indent - (piece.piece === "figures" ? 4 : 0);
  for (let size = piece.size; size >= LEAST; size -= 0.5) {
    const lines = pen.lines(text, room, { strong, size });
    const one = pen.widthOf(text, strong, size) <= room && !text.includes("\n");
    const high = lines.length * size * LEADING;
    // One line may be as high as its letters; several need their leading. No word is cut in two.
    const whole = text.split(/\s+/).every((w) => pen.widthOf(w, strong, size) <= room);
    if (!(one ? size <= box.height : whole && high <= box.height)) continue;
    const top = piece.piece === "figures" ? box.y + (box.height - size * LEADING) / 2 : box.y;
    if (caption !== "")
      pen.write(caption, box.x, top + (size - small) * 0.9, { size: small, colour: INK_2 });
    lines.forEach((line, n) =>
      pen.write(line, box.x + indent, top + n * size * LEADING, { strong, size }),
    );
    return true;
  }
  return false;
}

/** A word across the paper that says what it is not. */
function drawMark(document: Document, layout: PaperLayout, mark: string): void {
  const below = (layout.listFrom ?? layout.height) * UNIT;
  const middle: [number, number] = [(layout.width * UNIT) / 2, Math.min(below, 320) / 2];
  document.save().rotate(-12, { origin: middle }).font("strong-latin").fontSize(64);
  document
    .fillColor("#b8402a")
    .fillOpacity(0.28)
    .text(mark, middle[0] - document.widthOfString(mark) / 2, middle[1] - 40, { lineBreak: false })
    .restore()
    .fillOpacity(1);
}
