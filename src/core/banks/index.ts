export * from "./bankAccount";
export * from "./bankAddress";
export * from "./countries";
export * from "./routing";
export * from "./standing";
export * from "./workingDays";
