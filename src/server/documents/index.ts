export * from "./papers";
export * from "./links";
export * from "./numbers";
export * from "./chain";
export * from "./version";
export * from "./register";
export * from "./list";
export { whatWaits, type WhatWaits } from "./whatWaits";
export { listReasons, saveReason, type Reason } from "./reasons";
