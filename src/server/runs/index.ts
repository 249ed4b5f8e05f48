export * from "./runs";
export * from "./schedules";
