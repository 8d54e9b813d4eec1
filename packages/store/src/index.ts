export { type BlobStore, createFolderBlobStore } from "./blob-store.js";
export { openShelf, type OnShelf, readShelfIndex, type Shelf } from "./shelf.js";
