export * from "./policy";
export * from "./score";
export * from "./nextAction";
export * from "./promise";
export * from "./dispute";
