export * from "./propose";
export * from "./readTakes";
export * from "./receiptInput";
export * from "./written";
