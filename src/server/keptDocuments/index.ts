export * from "./defineKept";
