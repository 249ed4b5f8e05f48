export { balanceOn, EVER, openItems, rightOn, type ItemArea, type OpenItemRow } from "./openItems";
export { ageing, type Ageing, type AgeingRow } from "./ageing";
export { allocate } from "./allocate";
export { allocateItems } from "./allocateItems";
export { holdItem } from "./holdItem";
export { itemHistory, type ItemHistory } from "./itemHistory";
export {
  releaseItems,
  settleByJournals,
  settleTogether,
  type SettledTogether,
} from "./settleTogether";
export { undoAllocation } from "./undoAllocation";
export { restateItem, type Restated } from "./restateItem";
export { owedElsewhere, type OwedElsewhere } from "./owedElsewhere";
export * from "./balancesByCurrency";
export * from "./credited";
export * from "./subLedgers";
export * from "./verifyItems";
export {
  listWriteOffLimits,
  mayWriteOff,
  saveWriteOffLimit,
  type WriteOffLimit,
} from "./writeOffLimits";
export { partnerGlance, type PartnerGlance } from "./partnerGlance";
