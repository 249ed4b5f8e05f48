export { yearEndRun } from "./yearEnd";
export * from "./checks";
export * from "./verifyBooks";
export * from "./seals";
export { reversalsRun } from "./reversals";
export { recurringRun } from "./recurring";
