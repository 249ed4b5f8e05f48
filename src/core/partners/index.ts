export * from "./partner";
