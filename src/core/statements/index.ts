export * from "./types";
export * from "./evaluate";
export * from "./starterOutlines";
