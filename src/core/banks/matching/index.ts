export * from "./types";
export { matchLines } from "./matchLines";
