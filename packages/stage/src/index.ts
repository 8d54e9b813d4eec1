import { STAGE_PRELUDE } from "@tourney/core/stage";
import { hideInDrawings } from "./hide-in-drawings.js";
import { runStage } from "./run-stage.js";
import { shareInputs } from "./share-inputs.js";

export { makeWhole, type OwnFile } from "./whole-page.js";

/** Of what is hidden in a stage and how: kept with each ballot. */
export const MASK_VERSION = "2";

export interface StageShape {
  /** Source of a regular expression of names to hide, or null. */
  names: string | null;
  /** Length of the whole in bytes; a page that does not fit makes it longer, up to the next power of two. */
  bytes: number;
  /** A script that the page finds there as if the browser had brought it. */
  before?: string;
}

/**
 * The document of a stage: a script that waits for the booth and then shows the page. All stages of a bout have the same length, whatever is in
 * them.
 *
 * @param html the page, ready to be shown.
 */
export function stageDocument(html: string, { names, bytes, before = "" }: StageShape): string {
  const page = Buffer.from(html, "utf8").toString("base64");
  const scripts = [
    STAGE_PRELUDE,
    ...(before === "" ? [] : [`${before};document.currentScript.remove()`]),
    ...(names === null ? [] : [callOf(hideInDrawings, names)]),
    callOf(runStage, { page, names }),
  ].map((script) => `<script>${script}</script>`);
  const text = `<!doctype html><html lang="en"><meta charset="utf-8"><title>Page</title>${scripts.join("")}`;
  return padTo(text, bytes);
}

/** The document of an entry that the lead sees live: it hides nothing, and is silent until sound is asked for. In a window of its own it begins by itself. */
export const liveStageDocument = (html: string, before = ""): string =>
  stageDocument(html, { names: null, bytes: 0, before });

/** The document of a stage of a comparison: it begins when it is told to, hides nothing, and shares what is done in it. */
export const sharedStageDocument = (html: string, before = ""): string =>
  stageDocument(html, {
    names: null,
    bytes: 0,
    before: `${before};{const __name=(f)=>f;(${shareInputs.toString()})()}`,
  });

/** A script that calls a function, both as text. Some compilers wrap functions in a helper that names them. */
const callOf = <T>(run: (argument: T) => void, argument: T): string =>
  `{const __name=(f)=>f;(${run.toString()})(${JSON.stringify(argument).replaceAll("<", "\\u003c")})}`;

/** The page that the document of a stage holds. */
export function pageInStage(document: string): string {
  const page = /"page":"([A-Za-z0-9+/=]*)"/.exec(document)?.[1];
  return page === undefined ? "" : Buffer.from(page, "base64").toString("utf8");
}

/**
 * A style sheet with names hidden as dots in the text that it generates. Sheets within the page are cleaned there, as they come.
 *
 * @param names source of a regular expression of names to hide, or null.
 */
export function hideInSheet(css: string, names: string | null): string {
  if (names === null) return css;
  const pattern = new RegExp(names, "giu");
  const hide = (text: string) => text.replace(pattern, (found) => found.replace(/[\p{L}\p{N}]/gu, "•"));
  return css.replace(/"[^"\n]*"|'[^'\n]*'/g, hide);
}

/** For the scripts of a stage, whichever of them it needs. */
const ROOM_BYTES = 160_000;

/** The length that stages have which hold pages of up to so many bytes: the same for all that are alike. */
export const stageBytes = (pageBytes: number): number => powerAbove(2 * pageBytes + ROOM_BYTES);

/** A text made longer by spaces at its end, to a length in bytes or, where it does not fit, the next power of two. */
export function padTo(text: string, bytes: number): string {
  const own = Buffer.byteLength(text);
  return text + " ".repeat(Math.max(0, (own <= bytes ? bytes : powerAbove(own)) - own));
}

const powerAbove = (bytes: number): number => 2 ** Math.ceil(Math.log2(Math.max(1, bytes)));
