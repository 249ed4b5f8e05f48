export {
  openDatabase,
  openShared,
  rows,
  arrayOf,
  likeText,
  sha256,
  type Database,
  type Db,
  type OpenOptions,
  type SharedDatabase,
} from "./database";
export { FolderInUse } from "./folderLock";
export { DatabaseTooNew } from "./migrateDatabase";
export { inTransaction, isDuplicate } from "./transaction";
export { readSetting, writeSetting } from "./setting";
export * as schema from "./schema";
export { insertAll } from "./insertAll";
