export * from "./statement";
export { checkStatement } from "./checkStatement";
