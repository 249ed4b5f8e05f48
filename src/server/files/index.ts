export * from "./readTable";
export * from "./tableFile";
export * from "./reports";
export * from "./loadTemplate";
