export { type BlobStore, createFolderBlobStore } from "./blob-store.js";
export { BEAT_EVERY_MS, createPresence, freeStaleJobs, type Presence } from "./presence.js";
export { stopOnSignals } from "./stop-on-signals.js";
export { listPackages, openShelf, readShelfIndex, type Shelf } from "./shelf.js";
export {
  describeAddress,
  type DatabaseAddress,
  readDatabaseAddress,
  renderRoleOf,
  toVariables,
} from "./database-address.js";
export {
  type DatabaseConnection,
  describeRefusal,
  dropDatabases,
  ensureDatabase,
  resolveConnection,
  toClientConfig,
} from "./database-connection.js";
