export * from "./deferral";
