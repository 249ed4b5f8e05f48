export * from "./matrix";
export * from "./writeOffJournal";
