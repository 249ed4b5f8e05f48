export * from "./approvals";
export * from "./rules";
export * from "./standIns";
