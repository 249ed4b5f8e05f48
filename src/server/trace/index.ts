export * from "./trace";
