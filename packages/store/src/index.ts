export { type BlobStore, createFolderBlobStore } from "./blob-store.js";
export { BEAT_EVERY_MS, createPresence, freeStaleJobs, type Presence } from "./presence.js";
export { stopOnSignals } from "./stop-on-signals.js";
export { openShelf, readShelfIndex, type Shelf } from "./shelf.js";
export { createIntake, type Intake, ShelfIntake } from "./shelf-intake.js";
export { addPackage, folderOf, listTaken } from "./shelf-package.js";
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
export { createRoom, LEAST_ROOM_BYTES, type Room, type RoomState } from "./room.js";
