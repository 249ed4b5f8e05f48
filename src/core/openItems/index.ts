export * from "./settle";
export * from "./terms";
export * from "./termsText";
export * from "./ageing";
export * from "./settleMany";
export * from "./discount";
export * from "./kinds";
export * from "./habits";
