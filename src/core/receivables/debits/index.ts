export * from "./creditorId";
export * from "./mandate";
export * from "./proposeDebits";
