export { confirmPromise } from "./confirmPromise";
export { lateRates, saveLateRates } from "./lateRates";
export { lettersRun } from "./lettersRun";
export { reminderProcedures, saveReminders, type GroupReminders } from "./procedures";
export { lettersOfRun, listLetterRuns, type LetterRow, type LettersRunRow } from "./viewLetters";
export { getLetterPdf, sendLetters, sendLettersJob } from "./sendLetters";
