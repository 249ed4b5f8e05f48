import path from "node:path";
import { fontIn } from "./openFont";

type Document = PDFKit.PDFDocument;
export const INK = "#0d2b33";
export const INK_2 = "#41606a";
export const INK_3 = "#587079";
export const RULE = "#bccdd0";

/**
 * Writes in the application's own letters. The browser's variable font cannot be embedded in a PDF;
 * the static cuts can. Each file holds part of the letters, so a text is written in pieces.
 */
export function pdfPen(document: Document) {
  const fonts = path.join(process.cwd(), "node_modules", "@fontsource", "source-sans-3", "files");
  for (const part of ["latin", "latin-ext"])
    for (const [name, weight] of [
      ["text", 400],
      ["strong", 600],
    ])
      document.registerFont(
        `${name}-${part}`,
        fontIn(path.join(fonts, `source-sans-3-${part}-${weight}-normal.woff`)),
      );
  const pieces = (text: string): string[] =>
    text.match(/[\u0100-\u024f]+|[^\u0100-\u024f]+/g) ?? [];
  const fontFor = (piece: string, strong: boolean): string =>
    `${strong ? "strong" : "text"}-${/^[\u0100-\u024f]/.test(piece) ? "latin-ext" : "latin"}`;

  const widthOf = (text: string, strong: boolean, size: number): number =>
    pieces(text).reduce(
      (w, p) => w + document.font(fontFor(p, strong)).fontSize(size).widthOfString(p),
      0,
    );
  const write = (
    text: string,
    x: number,
    y: number,
    { strong = false, size = 9.5, colour = INK }: Style = {},
  ): void => {
    for (const p of pieces(text)) {
      document
        .font(fontFor(p, strong))
        .fontSize(size)
        .fillColor(colour)
        .text(p, x, y, { lineBreak: false });
      x += document.widthOfString(p);
    }
  };
  return {
    widthOf,
    write,
    /** A text in lines no wider than this; a word that is wider is cut where it must be. */
    lines: (text: string, width: number, { strong = false, size = 9.5 }: Style = {}): string[] =>
      text.split("\n").flatMap((line) => {
        const out: string[] = [];
        let current = "";
        for (const word of line.split(/\s+/)) {
          const joined = current ? `${current} ${word}` : word;
          if (widthOf(joined, strong, size) <= width) {
            current = joined;
            continue;
          }
          if (current) out.push(current);
          current = word;
          while (widthOf(current, strong, size) > width && current.length > 1) {
            let fits = current.length - 1;
            while (fits > 1 && widthOf(current.slice(0, fits), strong, size) > width) fits--;
            out.push(current.slice(0, fits));
            current = current.slice(fits);
          }
        }
        out.push(current);
        return out;
      }),
    rule: (x: number, y: number, width: number, weight = 0.6, colour = RULE) =>
      document
        .moveTo(x, y)
        .lineTo(x + width, y)
        .lineWidth(weight)
        .strokeColor(colour)
        .stroke(),
  };
}
export type Pen = ReturnType<typeof pdfPen>;
export interface Style {
  strong?: boolean;
  size?: number;
  colour?: string;
}

/** What a document has come to when it is ended. */
export function collected(document: Document): () => Promise<Uint8Array<ArrayBuffer>> {
  const chunks: Buffer[] = [];
  document.on("data", (chunk: Buffer) => chunks.push(chunk));
  const done = new Promise<void>((resolve, reject) => {
    document.once("end", () => resolve());
    document.once("error", reject);
  });
  return async () => {
    document.end();
    await done;
    return new Uint8Array(Buffer.concat(chunks));
  };
}
