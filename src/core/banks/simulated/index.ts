export * from "./customersWriting";
export * from "./bankDay";
