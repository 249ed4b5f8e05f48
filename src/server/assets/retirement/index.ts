export { retirementRun } from "./retirementRun";
