export { listAssetClasses, saveAssetClass } from "./classes";
export { loadClasses, type KeptClass } from "./loadClasses";
