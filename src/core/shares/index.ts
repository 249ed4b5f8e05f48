export * from "./shares";
export * from "./sharedCoding";
