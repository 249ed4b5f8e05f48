export * from "./statements";
export * from "./outlines";
