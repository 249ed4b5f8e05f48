export * from "./kinds";
export * from "./types";
