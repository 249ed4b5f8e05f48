export * from "./readOutside";
export type { ReadBy, ReaderKind } from "./readers";
