export * from "./papers";
export {
  callsForMe,
  keepRemark,
  namesCalled,
  remarksOn,
  remarkText,
  takesPart,
  takingPart,
  type Call,
  type Remark,
} from "./remarks";
export { addRemark } from "./addRemark";
export { addSaidFile } from "./addSaidFile";
export { filesSaid, type SaidFile } from "./saidFiles";
export { linkedCorrections, type DocumentName } from "./corrections";
export * from "./links";
export * from "./numbers";
export * from "./chain";
export * from "./version";
export * from "./register";
export * from "./list";
export { whatWaits, type WhatWaits } from "./whatWaits";
export { againstReason, reasonRules, saveReasonRules, type ReasonRules } from "./reasonRules";
export { listReasons, saveReason, type Reason } from "./reasons";
