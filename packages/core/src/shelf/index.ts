export { addressRelative, expandAddress } from "./expand-address.js";
export { addressBareImports, handOn, moduleAddress } from "./bare-imports.js";
export { chooseOnShelf, type ShelfChoice, type ShelfPackage } from "./choose-on-shelf.js";
export { LIBRARY_HOSTS, type LibraryRequest, readLibraryRequest } from "./library-request.js";
export { addressLibraries } from "./live-addresses.js";
