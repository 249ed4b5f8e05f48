export * from "./shares";
