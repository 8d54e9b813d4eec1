import { setTimeout } from "node:timers/promises";
import { addressLibraries } from "@tourney/core/shelf";
import { STAGE_SANDBOX } from "@tourney/core/stage";
import express, { type ErrorRequestHandler, type Express, type Request, type Response } from "express";
import type { BlobStore, Shelf } from "@tourney/store";
import type { StoredFiles } from "../entries/entry-queries.sql.js";
import { logRequests } from "../http/middleware.js";
import { isClientError } from "../http/problem-handler.js";
import type { Logger } from "pino";
import { liveStageDocument, sharedStageDocument } from "@tourney/stage";
import type { LiveAddresses } from "./live-address.js";
import type { ExhibitReads } from "./repository.js";
import { asksForIndexedDb, makeIndexedDb } from "./indexed-db.js";
import { typeOf } from "./media-types.js";
import { isProgramText, prepareText } from "./prepare-text.js";
import { type ExhibitOrigins, isExhibitHost } from "./stage-address.js";
import type { StagePages } from "./stage-pages.js";
import { createStages } from "./stages.js";

export interface ExhibitDeps extends ExhibitOrigins, ExhibitReads {
  appOrigin: string;
  blobs: BlobStore;
  shelf: Shelf;
  live: LiveAddresses;
  findFiles: (entryId: string) => Promise<StoredFiles | null>;
  stagePages: StagePages;
  log: Logger;
}

/** What a stage gets is sent at a multiple of this after it was asked for: how long finding it took does not show. */
const STAGE_PACE_MS = 120;

/**
 * The exhibit origin: serves outputs, which are hostile, on a host of their own. No cookies, no referrer, nothing cached;
 * every document is sandboxed without an origin by its own policy too, and may load from its own folder and from itself only.
 * Every answer carries the same headers, whoever made the output.
 */
export function createExhibitApp(deps: ExhibitDeps): Express {
  const app = express();
  app.disable("x-powered-by");
  app.disable("etag");
  app.use(logRequests(deps.log));
  app.use((request, response, next) => {
    response.set(exhibitHeaders(deps));
    // A name that somebody else's server gave to this address is none of ours.
    if (isExhibitHost(request.headers.host ?? "", deps)) next();
    else refuse(response);
  });
  app.get("/live/:token/*path", async (request, response) => {
    const entryId = deps.live.read(request.params.token);
    const files = entryId === null ? null : await deps.findFiles(entryId);
    await serveFile(files, request, response, deps);
  });
  const stages = createStages(deps);
  app.get("/stage/:token/*path", async (request, response) => {
    const askedAt = performance.now();
    const found = await stages.find(request.params.token, joinPath(request));
    const took = performance.now() - askedAt;
    await setTimeout(Math.ceil(took / STAGE_PACE_MS) * STAGE_PACE_MS - took);
    const isPage = found?.path === "page.html";
    if (found === null || !isAskedFor(request, isPage)) refuse(response);
    else response.set({ "Content-Type": typeOf(found.path), ...(isPage ? {} : FILE_HEADERS) }).send(found.body);
  });
  app.get("/shelf/:host/*path", async (request, response) => {
    const query = request.originalUrl.split("?")[1];
    const address = `https://${request.params.host}/${joinPath(request)}${query === undefined ? "" : `?${query}`}`;
    const found = await deps.shelf.find(address);
    if (found.kind === "lacking") {
      refuse(response);
      return;
    }
    const isText = /javascript|css/.test(found.contentType);
    const body = isText
      ? addressLibraries(found.body.toString("utf8"), `${ownOrigin(request, deps)}/shelf`)
      : found.body;
    response.set("Content-Type", found.contentType).send(body);
  });
  app.use((_request, response) => refuse(response));
  const onError: ErrorRequestHandler = (error: unknown, request, response, _next) => {
    // An address that cannot be read, as one with half an escape, is nobody's fault here.
    if (isClientError(error)) {
      refuse(response, error.status);
      return;
    }
    request.log.error({ err: error }, "an exhibit could not be served");
    refuse(response, 500);
  };
  app.use(onError);
  return app;
}

/** The host that a page was asked for at: what it loads comes from the same. */
const ownOrigin = ({ headers }: Request, { exhibitOrigin }: ExhibitOrigins): string =>
  `${new URL(exhibitOrigin).protocol}//${headers.host}`;

function exhibitHeaders({
  appOrigin,
  exhibitOrigin,
}: Pick<ExhibitDeps, "appOrigin" | "exhibitOrigin">): Record<string, string> {
  const shelf = `${exhibitOrigin}/shelf/`;
  const policy = [
    "default-src 'none'",
    `script-src 'self' ${shelf} 'unsafe-inline' 'unsafe-eval' 'wasm-unsafe-eval' blob: data:`,
    `style-src 'self' ${shelf} 'unsafe-inline' blob: data:`,
    `img-src 'self' ${shelf} blob: data:`,
    `font-src 'self' ${shelf} blob: data:`,
    `media-src 'self' ${shelf} blob: data:`,
    // Its own data files; there is nothing on this origin that takes any in.
    `connect-src 'self' ${shelf} blob: data:`,
    "worker-src blob: data:",
    "base-uri 'none'",
    "form-action 'none'",
    `frame-ancestors ${appOrigin}`,
    `sandbox ${STAGE_SANDBOX}`,
  ];
  return {
    "Content-Security-Policy": policy.join("; "),
    "Cache-Control": "no-store",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
    "Permissions-Policy":
      "camera=(), microphone=(), geolocation=(), display-capture=(), clipboard-read=(), clipboard-write=(), payment=(), usb=()",
    // No name is looked up and no connection opened for what a page merely announces.
    "X-DNS-Prefetch-Control": "off",
    "Cross-Origin-Resource-Policy": "cross-origin",
    // A sandboxed document has no origin, so its own module scripts and fonts are cross-origin to it.
    "Access-Control-Allow-Origin": "*",
  };
}

/**
 * For what is no page, as a drawing that a page sends itself to: opened as a document it would be without what is taken out of
 * pages before they begin, so no script of it runs and nothing is loaded.
 */
const FILE_HEADERS = {
  "Content-Security-Policy":
    "default-src 'none'; style-src 'unsafe-inline' data:; img-src data:; font-src data:; frame-ancestors 'none'; sandbox",
};

/** Whether what is asked for may be given for that: windows and frames get pages, and nothing else. */
function isAskedFor({ headers }: Request, isPage: boolean): boolean {
  const destination = headers["sec-fetch-dest"];
  const isDocument = ["document", "iframe", "frame", "embed", "object", "fencedframe"].includes(String(destination));
  // Some browsers do not say; then the policies that go with it must do.
  return isPage || !isDocument;
}

const joinPath = ({ params }: { params: { path: string[] } }) => params.path.join("/");

async function serveFile(
  stored: StoredFiles | null,
  request: Request<{ path: string[] }>,
  response: Response,
  { blobs, exhibitOrigin }: ExhibitDeps,
): Promise<void> {
  const path = joinPath(request);
  const file = stored?.files.find((candidate) => candidate.path === path);
  const bytes = file ? await blobs.find(file.sha256) : null;
  const isPage = path === stored?.entryPath || /\.html?$/i.test(path);
  if (bytes === null || !isAskedFor(request, isPage)) {
    refuse(response);
    return;
  }
  const shelf = `${exhibitOrigin}/shelf`;
  if (!isPage) {
    const body = isProgramText(path) ? prepareText(bytes.toString("utf8"), path, { shelf, isPage }) : bytes;
    response.set({ "Content-Type": typeOf(path), ...FILE_HEADERS }).send(body);
    return;
  }
  const html = prepareText(bytes.toString("utf8"), path, { shelf, isPage });
  const before = asksForIndexedDb([html]) ? await makeIndexedDb() : "";
  // In a comparison all begin at one instant, and what is done in one is done in all.
  const makeDocument = request.query["shared"] === "1" ? sharedStageDocument : liveStageDocument;
  response.set("Content-Type", typeOf("page.html")).send(await makeDocument(html, before));
}

function refuse(response: Response, status = 404): void {
  response.status(status).set("Content-Type", "text/plain; charset=utf-8").send("There is nothing here.\n");
}
