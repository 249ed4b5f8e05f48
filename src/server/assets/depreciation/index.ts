export { depreciationCharged } from "./closeCheck";
export { depreciationRun } from "./depreciationRun";
