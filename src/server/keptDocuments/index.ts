export * from "./defineKept";
export * from "./defineCreate";
export * from "./defineCancel";
export { keepAll, keepOne } from "./store";
export { guard } from "./guard";
export type { About, Column, Kept, KeptKind, KeptStore, Paper, Saved } from "./kind";
