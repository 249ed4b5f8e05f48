export * from "./worth";
export * from "./types";
export { matchLines } from "./matchLines";
export { meansLine, type LineRule } from "./rules";
