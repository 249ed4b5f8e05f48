import "./formWords";

export * from "./minor";
export * from "./currency";
export * from "./amountText";
export * from "./split";
export * from "./proportion";
export * from "./calendarDate";
export * from "./result";
export * from "./problem";
export * from "./textRecord";
export * from "./dayField";
export * from "./idField";
export * from "./json";
export * from "./tidy";
export * from "./arithmetic";
export * from "./parse";
export * from "./rhythm";
export * from "./checkDigits";
