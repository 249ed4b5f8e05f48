export * from "./readTable";
export * from "./outside";
export { readStatementFile } from "./readStatementFile";
export * from "./tableFile";
export * from "./textOfFile";
export * from "./reports";
export * from "./loadTemplate";
export { collected, INK, INK_2, INK_3, pdfPen, RULE, type Pen } from "./pdfPen";
