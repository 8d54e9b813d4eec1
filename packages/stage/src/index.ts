import { createHash, randomBytes } from "node:crypto";
import { promisify } from "node:util";
import { gunzipSync, gzip } from "node:zlib";
import { createNameFinder, DOTS, hashNames, LETTER_DOT } from "@tourney/core/blinding";
import type { KnownName } from "@tourney/core/extraction";
import { STAGE_PRELUDE } from "@tourney/core/stage";
import { hideInDrawings } from "./hide-in-drawings.js";
import { runStage } from "./run-stage.js";
import { shareInputs } from "./share-inputs.js";
import { watchPage } from "./watch-page.js";

export { makeWhole, type OwnFile } from "./whole-page.js";

/** Of what is hidden in a stage and how: kept with each ballot. */
export const MASK_VERSION = "3";

export interface StageShape {
  /** Names to hide, or null. */
  names: readonly KnownName[] | null;
  /** Length of the whole in bytes; a page that does not fit makes it longer, up to the next step. */
  bytes: number;
  /** A script that the page finds there as if the browser had brought it. */
  before?: string;
  /** Whether what is done in it is told, and acted out. */
  isShared?: boolean;
}

const pack = promisify(gzip);

/** A page as the document of a stage holds it. */
export const packPage = async (html: string): Promise<string> => (await pack(html, { level: 9 })).toString("base64");

const hash = (text: string): string => createHash("sha256").update(text).digest("hex");

/**
 * The document of a stage: a script that waits for the app and then shows the page. All stages of a bout have the same length, whatever is in
 * them. Names stand in it as hashes with a salt of its own: whoever reads it finds no list.
 *
 * @param page as `packPage` gives it
 */
export function stageDocument(page: string, { names, bytes, before = "", isShared = false }: StageShape): string {
  const hidden = names === null ? null : hashNames(names, { salt: randomBytes(12).toString("base64url"), hash });
  const options = { page, names: hidden, dots: { shown: DOTS, letter: LETTER_DOT } };
  const parts = `{createNameFinder:${createNameFinder.toString()},watchPage:${watchPage.toString()},shareInputs:${isShared ? shareInputs.toString() : "null"}}`;
  const scripts = [
    STAGE_PRELUDE,
    ...(before === "" ? [] : [`${before};document.currentScript.remove()`]),
    ...(hidden === null
      ? []
      : [callOf(hideInDrawings, { names: hidden, dots: options.dots }, createNameFinder.toString())]),
    callOf(runStage, options, parts),
  ].map((script) => `<script>${script}</script>`);
  const text = `<!doctype html><html lang="en"><meta charset="utf-8"><title>Page</title>${scripts.join("")}`;
  return padTo(text, bytes);
}

/** The document of an entry that the lead sees live: it hides nothing, and is silent until sound is asked for. In a window of its own it begins by itself. */
export const liveStageDocument = async (html: string, before = ""): Promise<string> =>
  stageDocument(await packPage(html), { names: null, bytes: 0, before });

/** The document of a stage of a comparison: it begins when it is told to, hides nothing, and shares what is done in it. */
export const sharedStageDocument = async (html: string, before = ""): Promise<string> =>
  stageDocument(await packPage(html), { names: null, bytes: 0, before, isShared: true });

/** A script that calls a function, all of it as text. Some compilers wrap functions in a helper that names them. */
const callOf = (run: (...parts: never[]) => void, argument: object, parts: string): string =>
  `{const __name=(f)=>f;(${run.toString()})(${JSON.stringify(argument).replaceAll("<", "\\u003c")},${parts})}`;

/** The page that the document of a stage holds. */
export function pageInStage(document: string): string {
  const page = /"page":"([A-Za-z0-9+/=]*)"/.exec(document)?.[1];
  return page === undefined ? "" : gunzipSync(Buffer.from(page, "base64")).toString("utf8");
}

/** For the scripts of a stage, whichever of them it needs. */
const ROOM_BYTES = 200_000;
/** Lengths are multiples of this: a page that is a little longer than those that were measured does not stick out. */
const STEP_BYTES = 65_536;

/**
 * The length that stages have which hold pages of up to so many bytes: the same for all that are alike.
 *
 * @param pageBytes as `packPage` gives them
 */
export const stageBytes = (pageBytes: number): number => stepAbove(1.02 * pageBytes + ROOM_BYTES);

/** A text made longer by spaces at its end, to a length in bytes or, where it does not fit, the next step. */
export function padTo(text: string, bytes: number): string {
  const own = Buffer.byteLength(text);
  return text + " ".repeat(Math.max(0, (own <= bytes ? bytes : stepAbove(own)) - own));
}

const stepAbove = (bytes: number): number => Math.ceil(bytes / STEP_BYTES) * STEP_BYTES;
