export * from "./language";
export * from "./layout";
export * from "./letter";
export * from "./orderLetter";
export * from "./remittanceLetter";
export * from "./saleLetter";
export * from "./accountLetter";
