export * from "./kinds";
export * from "./interest";
export * from "./procedure";
export * from "./remind";
