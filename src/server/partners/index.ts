export * from "./partners";
