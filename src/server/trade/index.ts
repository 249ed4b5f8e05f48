export * from "./checkPapers";
export * from "./postPaper";
export * from "./tableRows";
