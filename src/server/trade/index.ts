export * from "./checkPapers";
export * from "./postPaper";
