import "./yearEnd";
export * from "./checks";
export * from "./verifyBooks";
export * from "./seals";
import "./reversals";
import "./recurring";
