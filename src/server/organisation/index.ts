export * from "./masters";
export * from "./periods";
export * from "./setUp";
export * from "./switchPeriods";
export { install, installChart, isInstalled } from "./install";
