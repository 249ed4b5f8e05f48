export * from "./statement";
export { checkStatement } from "./checkStatement";
export { isWhole, openBatches, partsOf, type BatchPlace, type OpenedLine } from "./openBatches";
export { linesOfNotices } from "./linesOfNotices";
