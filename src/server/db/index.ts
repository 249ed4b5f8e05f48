export {
  openDatabase,
  rows,
  arrayOf,
  likeText,
  sha256,
  type Database,
  type Db,
  type OpenOptions,
} from "./database";
export { FolderInUse } from "./folderLock";
export { DatabaseTooNew } from "./migrateDatabase";
export { inTransaction } from "./transaction";
export { readSetting, writeSetting } from "./setting";
export * as schema from "./schema";
