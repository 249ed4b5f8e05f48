export { Choice, type Option } from "./Choice";
export { currencyOptions } from "./currencyOptions";
export { faultsOf, type Fault } from "./fault";
export { RecordForm, type Leave } from "./RecordForm";
export type { RecordField } from "./RecordInput";
export type { RecordValues } from "./useRecordForm";
