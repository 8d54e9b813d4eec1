import { languageOf, listReferences, type Reference, resolvePath } from "@tourney/core/extraction";

/** A file of an artifact as a page may ask for it. */
export interface OwnFile {
  path: string;
  /** Its media type. */
  type: string;
  bytes: Uint8Array;
}

/** Within files within files, no further than this: what goes deeper is nobody's honest page. */
const DEEPEST = 8;
/** A page that would become larger, in characters, keeps its files beside it. */
const LARGEST = 8_000_000;

/**
 * An artifact's page with its own files put into it as data addresses, so that it is one document: how many files it has, how large they are and
 * what they are called shows in no request. What is asked for by an address that is only made while the page runs, an element of
 * another drawing (`sprite.svg#buoy`), and modules that import each other in a circle stay beside it.
 *
 * @param prepare what becomes of a script's or style sheet's text before it is put in.
 */
export function makeWhole(
  entryPath: string,
  files: readonly OwnFile[],
  prepare: (text: string, path: string) => string = (text) => text,
): string | null {
  const byPath = new Map(files.map((file) => [file.path, file]));
  const textOf = ({ bytes }: OwnFile) => Buffer.from(bytes).toString("utf8");
  let size = 0;

  const addressOf = (file: OwnFile, above: readonly string[]): string | null => {
    const language = languageOf({ path: file.path, text: "" });
    // A document within the document would be a page of its own.
    if (/\.x?html?$/i.test(file.path) || above.includes(file.path) || above.length > DEEPEST) return null;
    const isText = language === "js" || language === "css";
    const bytes = isText
      ? Buffer.from(prepare(fill(textOf(file), { path: file.path, language, above }), file.path))
      : file.bytes;
    size += bytes.length;
    return size > LARGEST
      ? null
      : `data:${file.type.replace(/\s/g, "")};base64,${Buffer.from(bytes).toString("base64")}`;
  };

  interface Place {
    path: string;
    language: "html" | "css" | "js";
    above: readonly string[];
  }
  /** The text with every reference to an own file that can be put in replaced by the file. */
  function fill(text: string, { path, language, above }: Place): string {
    const parts: string[] = [];
    let at = 0;
    for (const together of groupByPlace(listReferences(text, language))) {
      const { start, end } = together[0]!;
      if (start < at) continue;
      let span = text.slice(start, end);
      for (const { target, kind } of together) {
        if (target.includes("#")) continue;
        // A script's addresses are the page's, but for what it imports.
        const from = language === "js" && kind !== "module" ? entryPath : path;
        const file = byPath.get(resolvePath(from, target.split("?", 1)[0]!));
        const address = file && file.path !== entryPath ? addressOf(file, [...above, path]) : null;
        if (address !== null) span = span.replace(target, () => address);
      }
      parts.push(text.slice(at, start), span);
      at = end;
    }
    return parts.join("") + text.slice(at);
  }

  const entry = byPath.get(entryPath);
  if (!entry) return null;
  const page = textOf(entry);
  if (byPath.size === 1) return page;
  const whole = fill(page, { path: entryPath, language: "html", above: [] });
  return size > LARGEST ? page : whole;
}

/** Several addresses may stand in one attribute. */
function groupByPlace(references: readonly Reference[]): Reference[][] {
  const groups: Reference[][] = [];
  for (const reference of [...references].sort((a, b) => a.start - b.start)) {
    const last = groups.at(-1);
    if (last?.[0]!.start === reference.start && last[0].end === reference.end) last.push(reference);
    else groups.push([reference]);
  }
  return groups;
}
