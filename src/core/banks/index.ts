export * from "./bankAccount";
