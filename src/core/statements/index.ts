export * from "./types";
export * from "./evaluate";
export * from "./starterOutlines";
export * from "./editOutline";
