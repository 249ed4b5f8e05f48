export * from "./side";
export * from "./paperInput";
export * from "./paper";
export * from "./readPaper";
