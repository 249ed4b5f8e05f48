export * from "./defineKept";
export * from "./defineCreate";
export * from "./defineCancel";
export { keepAll, keepOne } from "./store";
export type { About, Kept, KeptKind, KeptStore, Saved } from "./kind";
