export * from "./rights";
export * from "./password";
