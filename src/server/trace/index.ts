export type { Station, StationRow, Trace } from "./station";
export * from "./trace";
