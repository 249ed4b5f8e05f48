export * from "./settle";
export * from "./terms";
export * from "./ageing";
export * from "./settleMany";
