export * from "./types";
export * from "./evaluate";
export * from "./outlineLines";
export * from "./layouts";
export * from "./starterOutlines";
export * from "./outlinesOfChart";
export * from "./editOutline";
export * from "./rounding";
