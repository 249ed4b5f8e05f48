import "./yearEnd";
export * from "./checks";
export * from "./verifyBooks";
import "./reversals";
import "./recurring";
