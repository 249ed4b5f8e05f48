export * from "./kinds";
export * from "./types";
export * from "./itemState";
