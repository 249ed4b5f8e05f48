import { letterWord, type Letter, type LetterLayout } from "@/core/letters";
import { create as createSquare } from "qrcode";
import { collected, INK_2, INK_3, pdfPen, RULE, type Pen } from "../files";

/** Points of a millimetre. */
const MM = 72 / 25.4;
const LEFT = 25 * MM;
const RIGHT = 20 * MM;
/** The address field of ISO 269 DL envelopes, 45 mm from the top edge. */
const WINDOW = { left: 25 * MM, right: 118 * MM, top: 45 * MM, width: 80 * MM };
/** Where the body begins, and where it ends above the foot. */
const BODY = 100 * MM;
const FOOT = 26 * MM;

/** What stands around the body: who sends it, and what the foot of every page says. */
export interface Sender {
  name: string;
  /** The line in the window, above the address. */
  senderLine: string;
  layout: LetterLayout;
  /** Columns of the foot, a list of lines each. */
  foot: readonly (readonly string[])[];
}

type Document = PDFKit.PDFDocument;

/** A letter as a PDF: A4, one layout for every paper of a company. */
export async function drawLetter(letter: Letter, sender: Sender): Promise<Uint8Array<ArrayBuffer>> {
  const { default: PDFDocument } = await import("pdfkit");
  const document = new PDFDocument({
    size: "A4",
    margin: 0,
    bufferPages: true,
    lang: letter.language,
    info: { Title: letter.title, Author: sender.name, Creator: "Yellow Anchor" },
  });
  const pen = pdfPen(document);
  const finish = collected(document);
  const width = document.page.width - LEFT - RIGHT;
  drawHead(document, pen, sender);
  drawAddress(pen, letter, sender);
  drawFacts(pen, letter, sender.layout.windowRight);
  let y = BODY;
  pen.write(letter.title, LEFT, y, { strong: true, size: 15 });
  y += 28;
  y = drawBlocks(pen, letter, y);
  y = drawText(pen, letter.opening, width, y);
  y = drawTable(document, pen, letter, width, y);
  y = drawTotals(document, pen, letter, width, y);
  y = drawText(pen, letter.closing, width, y + 10);
  drawPayment(document, pen, letter, y + 6);
  drawFeet(document, pen, letter, sender);
  return finish();
}

function drawHead(document: Document, pen: Pen, { name, layout }: Sender): void {
  // The marks at which the sheet is folded, and its middle.
  for (const at of [105, 148.5, 210]) pen.rule(4 * MM, at * MM, (at === 148.5 ? 6 : 4) * MM, 0.4);
  const x = layout.windowRight ? LEFT : document.page.width - RIGHT - 60 * MM;
  if (layout.logo === "") {
    const at = layout.windowRight
      ? LEFT
      : document.page.width - RIGHT - pen.widthOf(name, true, 16);
    return pen.write(name, at, 18 * MM, { strong: true, size: 16 });
  }
  document.image(Buffer.from(layout.logo, "base64"), x, 13 * MM, {
    fit: [60 * MM, 20 * MM],
    align: layout.windowRight ? undefined : "right",
  });
}

function drawAddress(pen: Pen, letter: Letter, { senderLine, layout }: Sender): void {
  const x = layout.windowRight ? WINDOW.right : WINDOW.left;
  const small = { size: 7, colour: INK_2 };
  pen.write(pen.lines(senderLine, WINDOW.width, small)[0] ?? "", x, WINDOW.top + 5 * MM, small);
  pen.rule(x, WINDOW.top + 8.5 * MM, WINDOW.width, 0.4);
  letter.recipient.forEach((line, i) =>
    pen.write(line, x, WINDOW.top + 11.5 * MM + i * 14, { size: 10.5 }),
  );
}

function drawFacts(pen: Pen, letter: Letter, windowRight: boolean): void {
  const x = windowRight ? LEFT : 125 * MM;
  const second = x + 32 * MM;
  let y = WINDOW.top + 5 * MM;
  for (const fact of letter.facts) {
    pen.write(fact.label, x, y, { size: 8.5, colour: INK_2 });
    for (const line of pen.lines(fact.text, 36 * MM, { size: 8.5 })) {
      pen.write(line, second, y, { size: 8.5 });
      y += 12;
    }
  }
}

function drawBlocks(pen: Pen, letter: Letter, y: number): number {
  for (const block of letter.blocks) {
    pen.write(block.label, LEFT, y, { size: 8.5, colour: INK_2 });
    for (const line of block.lines) {
      pen.write(line, LEFT + 32 * MM, y, { size: 9.5 });
      y += 13;
    }
    y += 6;
  }
  return y;
}

function drawText(pen: Pen, text: string, width: number, y: number): number {
  if (text === "") return y;
  for (const line of pen.lines(text, width)) {
    pen.write(line, LEFT, y);
    y += 13;
  }
  return y + 8;
}

const SIZE = 9;
const LINE = 12;
const PAD = 4;

/** The columns of the table: where each begins, and how wide it is. */
function columnsOf(letter: Letter, width: number) {
  const whole = letter.columns.reduce((sum, c) => sum + c.weight, 0);
  let x = LEFT;
  return letter.columns.map((c) => {
    const own = { ...c, x, width: (width * c.weight) / whole };
    x += own.width;
    return own;
  });
}

function drawTable(document: Document, pen: Pen, letter: Letter, width: number, y: number): number {
  const columns = columnsOf(letter, width);
  const put = (text: string, c: (typeof columns)[number], at: number, strong = false) => {
    const x = c.right ? c.x + c.width - pen.widthOf(text, strong, SIZE) : c.x;
    pen.write(text, Math.max(c.x, x), at, { size: SIZE, strong });
  };
  const heading = () => {
    for (const c of columns) put(c.name, c, y, true);
    y += LINE + 2;
    pen.rule(LEFT, y, width, 0.8);
    y += 4;
  };
  heading();
  for (const row of letter.rows) {
    const cells = row.map((text, i) => pen.lines(text, columns[i]!.width - PAD, { size: SIZE }));
    const height = Math.max(...cells.map((lines) => lines.length)) * LINE + 5;
    if (y + height > document.page.height - FOOT - 14) {
      document.addPage();
      y = 20 * MM;
      heading();
    }
    cells.forEach((lines, i) => lines.forEach((line, n) => put(line, columns[i]!, y + n * LINE)));
    y += height;
    pen.rule(LEFT, y - 3, width, 0.3);
  }
  return y + 3;
}

function drawTotals(
  document: Document,
  pen: Pen,
  letter: Letter,
  width: number,
  y: number,
): number {
  const needed = letter.totals.length * 14 + 6;
  if (y + needed > document.page.height - FOOT - 14) {
    document.addPage();
    y = 20 * MM;
  }
  const right = LEFT + width;
  for (const { label, text, strong = false } of letter.totals) {
    if (strong) pen.rule(right - 75 * MM, y - 1, 75 * MM, 0.8, INK_2);
    pen.write(label, right - 75 * MM, y + 2, { strong, size: 9.5 });
    pen.write(text, right - pen.widthOf(text, strong, 9.5), y + 2, { strong, size: 9.5 });
    y += 15;
  }
  return y;
}

/** How it is paid: the square at the left, what it says beside it. */
function drawPayment(document: Document, pen: Pen, { payment }: Letter, y: number): void {
  if (!payment) return;
  const side = payment.square === "" ? 0 : 30 * MM;
  if (y + Math.max(side + 14, payment.facts.length * 14) > document.page.height - FOOT - 14) {
    document.addPage();
    y = 20 * MM;
  }
  if (side > 0) {
    drawSquare(document, payment.square, { x: LEFT, y, side });
    pen.write(payment.below, LEFT, y + side + 3, { size: 7.5, colour: INK_2 });
  }
  const x = side === 0 ? LEFT : LEFT + side + 6 * MM;
  payment.facts.forEach((fact, i) => {
    pen.write(fact.label, x, y + i * 14, { size: 8.5, colour: INK_2 });
    pen.write(fact.text, x + 32 * MM, y + i * 14, { size: 9.5 });
  });
}

/** A square of modules, by error correction M as EPC 069-12 asks for. */
function drawSquare(
  document: Document,
  text: string,
  { x, y, side }: { x: number; y: number; side: number },
): void {
  const { modules } = createSquare(text, { errorCorrectionLevel: "M" });
  const edge = side / modules.size;
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++)
      if (modules.get(row, column)) document.rect(x + column * edge, y + row * edge, edge, edge);
  document.fill("black");
}

/** The foot and the number of every page, once it is known how many there are. */
function drawFeet(document: Document, pen: Pen, letter: Letter, sender: Sender): void {
  const pages = document.bufferedPageRange().count;
  const width = document.page.width - LEFT - RIGHT;
  const top = document.page.height - 21 * MM;
  const style = { size: 7.5, colour: INK_3 };
  for (let page = 0; page < pages; page++) {
    document.switchToPage(page);
    const number = letterWord("page", letter.language)
      .replace("{n}", String(page + 1))
      .replace("{of}", String(pages));
    pen.write(number, LEFT + width - pen.widthOf(number, false, 7.5), top - 12, style);
    if (page > 0) pen.write(letter.title, LEFT, 12 * MM, style);
    pen.rule(LEFT, top, width, 0.5, RULE);
    const column = width / Math.max(1, sender.foot.length);
    sender.foot.forEach((lines, i) =>
      lines.forEach((line, n) => {
        const [shown = ""] = pen.lines(line, column - 6, style);
        pen.write(shown, LEFT + i * column, top + 4 + n * 9.5, style);
      }),
    );
  }
}
