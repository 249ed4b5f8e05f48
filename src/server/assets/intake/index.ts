export { mergeIntake, setIntakeAside, splitIntake } from "./arrangeIntake";
export { fillIntake } from "./fillIntake";
export { intakeRun } from "./intakeRun";
export { listIntake, type Intake } from "./listIntake";
export type { IntakeLine } from "./readIntake";
