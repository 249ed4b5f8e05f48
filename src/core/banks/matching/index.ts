export * from "./types";
export { matchLines } from "./matchLines";
export { nameDiffers, plainName } from "./names";
