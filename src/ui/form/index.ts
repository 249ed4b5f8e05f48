export { Choice, type Option } from "./Choice";
export { currencyOptions } from "./currencyOptions";
export { faultOf, faultsOf, type Fault } from "./fault";
export { RecordForm, type Leave } from "./RecordForm";
export { RecordInput, type RecordField } from "./RecordInput";
export { useLeaveGuard } from "./useLeaveGuard";
export { useRecordForm, type Derive, type RecordValues } from "./useRecordForm";
export { NotSaved } from "./NotSaved";
