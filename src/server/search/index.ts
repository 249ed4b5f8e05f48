export * from "./find";
