export * from "./worth";
export * from "./types";
export type { Expected } from "./expected";
export type { RememberedLine } from "./remembered";
export { matchLines } from "./matchLines";
export { meansLine, type LineRule } from "./rules";
export { itemIndex } from "./itemIndex";
export { sumsTo } from "./sumsTo";
