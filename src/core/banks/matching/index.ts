export * from "./worth";
export * from "./types";
export type { Expected } from "./expected";
export { matchLines } from "./matchLines";
export { meansLine, type LineRule } from "./rules";
