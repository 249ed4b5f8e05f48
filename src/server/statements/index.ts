export * from "./statements";
