export * from "./order";
export * from "./cleanUp";
