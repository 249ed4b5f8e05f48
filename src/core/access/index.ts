export * from "./rights";
export * from "./password";
export * from "./personInput";
