export * from "./askServer";
export * from "./backupFiles";
export * from "./backups";
export * from "./makeBackup";
export * from "./running";
export * from "./schedule";
