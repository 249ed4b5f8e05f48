export * from "./daysSales";
