export { depreciationRun } from "./depreciationRun";
