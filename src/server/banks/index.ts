export * from "./bankAccounts";
