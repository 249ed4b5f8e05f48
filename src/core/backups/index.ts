export * from "./isBackupDue";
