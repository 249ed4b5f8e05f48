export * from "./mandate";
export * from "./proposeDebits";
