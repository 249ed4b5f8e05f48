import { strToU8, zipSync } from "fflate";

/**
 * A workbook of these parts, written by hand (ECMA-376) and by no code of the application; what is
 * not given is as plain as can be.
 */
export const plainWorkbook = (parts: {
  /** What stands in the worksheet. */
  sheet?: string;
  /** What stands beside the sheets in the workbook. */
  book?: string;
  texts?: string;
  styles?: string;
}): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries({
        "xl/workbook.xml": `<workbook xmlns:r="r">${parts.book ?? ""}<sheets><sheet name="A" r:id="1"/></sheets></workbook>`,
        "xl/_rels/workbook.xml.rels": `<Relationships><Relationship Id="1" Target="worksheets/sheet1.xml"/></Relationships>`,
        "xl/sharedStrings.xml": `<sst>${parts.texts ?? ""}</sst>`,
        "xl/styles.xml": `<styleSheet>${parts.styles ?? ""}</styleSheet>`,
        "xl/worksheets/sheet1.xml": `<worksheet>${parts.sheet ?? "<sheetData/>"}</worksheet>`,
      }).map(([name, content]) => [name, strToU8(content)]),
    ),
    { level: 1 },
  );
