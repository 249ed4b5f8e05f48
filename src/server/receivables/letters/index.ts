export { confirmPromise } from "./confirmPromise";
export { lateRates, saveLateRates } from "./lateRates";
export { lettersRun } from "./lettersRun";
export { reminderProcedures, saveReminders, type GroupReminders } from "./procedures";
export { getLetterPdf, sendLetters, sendLettersJob } from "./sendLetters";
