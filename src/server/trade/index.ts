export * from "./checkPapers";
export * from "./items";
export * from "./postPaper";
export * from "./tableRows";
