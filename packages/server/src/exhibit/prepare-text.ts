import { addressLibraries } from "@tourney/core/shelf";
import { dropIntegrity, wrapDrawing } from "@tourney/core/stage";
import { extensionOf } from "./media-types.js";

/** A file that a browser reads as text. */
export const isProgramText = (path: string): boolean => /^(?:css|m?js)$/.test(extensionOf(path));

/**
 * A page or another file of text as a browser may be given it: what it loads of public hosts comes from the shelf.
 *
 * @param shelf where that is, as in http://127.0.0.1:4611/shelf
 */
export function prepareText(text: string, path: string, { shelf, isPage }: { shelf: string; isPage: boolean }): string {
  const addressed = addressLibraries(isPage ? dropIntegrity(text).html : text, shelf);
  return isPage && extensionOf(path) === "svg" ? wrapDrawing(addressed) : addressed;
}
