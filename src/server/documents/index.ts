export * from "./papers";
