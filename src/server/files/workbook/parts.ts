import type { Zip } from "./openZip";
import { attribute, readXml } from "./readXml";

/** A sheet as the workbook lists it. */
export interface SheetEntry {
  name: string;
  hidden: boolean;
  part: string;
}
export interface WorkbookParts {
  sheets: SheetEntry[];
  /** Days are counted from 1904 (ECMA-376, 18.17.4.1) instead of from 1900. */
  from1904: boolean;
  /** Texts that cells name by number. */
  texts: string[];
  /** For each style, whether its format shows a day. */
  dateStyles: boolean[];
}

/** What stands around the sheets of a workbook (ECMA-376 part 1, 18.2, 18.4, 18.8). */
export function readParts(zip: Zip): WorkbookParts {
  const targets = readTargets(zip);
  const sheets: SheetEntry[] = [];
  let from1904 = false;
  readXml(zip, "xl/workbook.xml", {
    open: (name, attributes) => {
      if (name === "workbookPr") from1904 = isTrue(attributes.date1904);
      if (name !== "sheet") return;
      const part = targets.get(attribute(attributes, "id") ?? "");
      if (part === undefined) return;
      const hidden = (attributes.state ?? "visible") !== "visible";
      sheets.push({ name: attributes.name ?? "", hidden, part });
    },
  });
  return { sheets, from1904, texts: readTexts(zip), dateStyles: readDateStyles(zip) };
}

export const isTrue = (text: string | undefined): boolean => text === "1" || text === "true";

/** The part that each relation of the workbook leads to. */
function readTargets(zip: Zip): Map<string, string> {
  const targets = new Map<string, string>();
  readXml(zip, "xl/_rels/workbook.xml.rels", {
    open: (name, { Id, Target }) => {
      if (name !== "Relationship" || !Id || !Target) return;
      targets.set(Id, Target.startsWith("/") ? Target.slice(1) : `xl/${Target}`);
    },
  });
  return targets;
}

/** The shared texts; parts in several fonts are one text, readings beside them are left out. */
function readTexts(zip: Zip): string[] {
  const texts: string[] = [];
  let text: string[] = [];
  let inText = false;
  let inReading = false;
  readXml(zip, "xl/sharedStrings.xml", {
    open: (name) => {
      if (name === "si") text = [];
      if (name === "rPh") inReading = true;
      inText = name === "t" && !inReading;
    },
    text: (piece) => {
      if (inText) text.push(piece);
    },
    close: (name) => {
      if (name === "rPh") inReading = false;
      if (name === "si") texts.push(unescaped(text.join("")));
      inText = false;
    },
  });
  return texts;
}

/** Letters that XML cannot hold stand as _xHHHH_ (ECMA-376, 22.9.2.19). */
export const unescaped = (text: string): string =>
  text.includes("_x")
    ? text.replace(/_x([0-9A-Fa-f]{4})_/g, (_m, code: string) =>
        String.fromCharCode(Number.parseInt(code, 16)),
      )
    : text;

/** Formats that show a day or a time, of those that need no definition (ECMA-376, 18.8.30). */
const isBuiltInDate = (id: number): boolean =>
  (id >= 14 && id <= 22) ||
  (id >= 27 && id <= 36) ||
  (id >= 45 && id <= 47) ||
  (id >= 50 && id <= 58);

/** Longer than any format is: a longer one is taken for one of figures. */
const MAX_FORMAT = 255;

function readDateStyles(zip: Zip): boolean[] {
  const own = new Map<number, boolean>();
  const styles: boolean[] = [];
  let inStyles = false;
  readXml(zip, "xl/styles.xml", {
    open: (name, attributes) => {
      if (name === "numFmt")
        own.set(Number(attributes.numFmtId), isDateFormat(attributes.formatCode ?? ""));
      if (name === "cellXfs") inStyles = true;
      if (name !== "xf" || !inStyles) return;
      const id = Number(attributes.numFmtId ?? 0);
      styles.push(own.get(id) ?? isBuiltInDate(id));
    },
    close: (name) => {
      if (name === "cellXfs") inStyles = false;
    },
  });
  return styles;
}

/** Whether a format shows parts of a day, besides its texts, colours and conditions. */
function isDateFormat(format: string): boolean {
  if (format.length > MAX_FORMAT) return false;
  const bare = format.replace(/"[^"]*"|\[[^\]]*\]|\\.|_./g, "");
  return /[dmyhs]/i.test(bare);
}
