export * from "./readTable";
export * from "./outside";
export * from "./tableFile";
export * from "./reports";
export * from "./loadTemplate";
