export { fillIntake, mergeIntake, setIntakeAside, splitIntake } from "./changeIntake";
export { intakeRun } from "./intakeRun";
export { listIntake, type Intake } from "./listIntake";
export type { IntakeLine } from "./readIntake";
