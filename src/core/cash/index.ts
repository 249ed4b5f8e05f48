export * from "./expectedDays";
export * from "./forecast";
