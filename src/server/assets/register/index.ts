export { changeEstimate } from "./changeEstimate";
export { moveAsset, saveAsset } from "./changeAsset";
export { getAsset, type AssetInBook, type AssetMovement, type AssetView } from "./getAsset";
export { listAssets, type AssetRow } from "./listAssets";
export { takeOverAssets } from "./takeOver";
export { assetSchedule, type Schedule, type ScheduleRow } from "./schedule";
