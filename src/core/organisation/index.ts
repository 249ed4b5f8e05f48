export * from "./types";
export * from "./calendar";
export * from "./periodSteps";
export * from "./place";
export * from "./setUpInput";
export * from "./firstSteps";
