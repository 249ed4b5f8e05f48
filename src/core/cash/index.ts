export * from "./expectedDays";
export * from "./forecast";
export { monthlyDays } from "./monthlyDays";
