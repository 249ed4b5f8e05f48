export * from "./runs";
