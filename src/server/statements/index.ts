export * from "./statements";
export * from "./outlines";
export * from "./closeChecks";
