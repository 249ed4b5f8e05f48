export * from "./readTable";
export * from "./decodeXml";
export * from "./tableFile";
export * from "./reports";
export * from "./loadTemplate";
