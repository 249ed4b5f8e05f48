export { lossesRun } from "./lossesRun";
export { lossMatrix, type LossCell, type LossMatrix } from "./lossMatrix";
export { listWriteOffs, undoWriteOff, type WriteOffRow } from "./undoWriteOff";
export { writeOffItems } from "./writeOffItems";
