export * from "./defineKept";
export type { About, Kept, KeptKind, Saved } from "./kind";
