import { setTimeout } from "node:timers/promises";
import type { KnownName } from "@tourney/core/extraction";
import { addressLibraries } from "@tourney/core/shelf";
import { dropIntegrity, STAGE_SANDBOX, wrapDrawing } from "@tourney/core/stage";
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
import { extensionOf, typeOf } from "./media-types.js";
import { type ExhibitOrigins, isExhibitHost } from "./stage-address.js";
import { createStages } from "./stages.js";

export interface ExhibitDeps extends ExhibitOrigins, ExhibitReads {
  appOrigin: string;
  blobs: BlobStore;
  shelf: Shelf;
  live: LiveAddresses;
  findFiles: (entryId: string) => Promise<StoredFiles | null>;
  listKnownNames: () => Promise<KnownName[]>;
  log: Logger;
}

/** What a stage gets is sent at a multiple of this after it was asked for: how long finding it took does not show. */
const STAGE_PACE_MS = 40;

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
    response.set(exhibitHeaders(deps.appOrigin));
    // A name that somebody else's server gave to this address is none of ours.
    if (isExhibitHost(request.headers.host ?? "", deps)) next();
    else refuse(response);
  });
  app.get("/live/:token/*path", async (request, response) => {
    const entryId = deps.live.read(request.params.token);
    const files = entryId === null ? null : await deps.findFiles(entryId);
    await serveFile(files, joinPath(request), response, { ...deps, isShared: request.query["shared"] === "1" });
  });
  const stages = createStages({ ...deps, prepareText });
  app.get("/stage/:token/*path", async (request, response) => {
    const askedAt = performance.now();
    const found = await stages.find(request.params.token, joinPath(request), ownOrigin(request, deps));
    const took = performance.now() - askedAt;
    await setTimeout(Math.ceil(took / STAGE_PACE_MS) * STAGE_PACE_MS - took);
    if (found === null) refuse(response);
    else response.set("Content-Type", typeOf(found.path)).send(found.body);
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

function exhibitHeaders(appOrigin: string): Record<string, string> {
  const policy = [
    "default-src 'none'",
    "script-src 'self' 'unsafe-inline' 'unsafe-eval' 'wasm-unsafe-eval' blob: data:",
    "style-src 'self' 'unsafe-inline' blob: data:",
    "img-src 'self' blob: data:",
    "font-src 'self' blob: data:",
    "media-src 'self' blob: data:",
    // Its own data files; there is nothing on this origin that takes any in.
    "connect-src 'self' blob: data:",
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

const joinPath = ({ params }: { params: { path: string[] } }) => params.path.join("/");

async function serveFile(
  stored: StoredFiles | null,
  path: string,
  response: Response,
  deps: ExhibitDeps & { isShared: boolean },
): Promise<void> {
  const file = stored?.files.find((candidate) => candidate.path === path);
  const bytes = file ? await deps.blobs.find(file.sha256) : null;
  if (bytes === null) {
    refuse(response);
    return;
  }
  const isPage = path === stored?.entryPath || /\.html?$/i.test(path);
  const text = isPage || isText(path) ? prepareText(bytes, path, { origin: deps.exhibitOrigin, isPage }) : null;
  response.set("Content-Type", typeOf(isPage ? "page.html" : path));
  if (!isPage) response.send(text ?? bytes);
  else {
    const before = asksForIndexedDb([text!]) ? await makeIndexedDb() : "";
    // In a comparison all begin at one instant, and what is done in one is done in all.
    response.send(deps.isShared ? sharedStageDocument(text!, before) : liveStageDocument(text!, before));
  }
}

const isText = (path: string): boolean => /^(?:css|m?js)$/.test(extensionOf(path));

/** A page or another file of text as a browser may be given it: what it loads of public hosts comes from the shelf. */
function prepareText(bytes: Buffer, path: string, { origin, isPage }: { origin: string; isPage: boolean }): string {
  const text = addressLibraries(
    isPage ? dropIntegrity(bytes.toString("utf8")).html : bytes.toString("utf8"),
    `${origin}/shelf`,
  );
  return isPage && extensionOf(path) === "svg" ? wrapDrawing(text) : text;
}

function refuse(response: Response, status = 404): void {
  response.status(status).set("Content-Type", "text/plain; charset=utf-8").send("There is nothing here.\n");
}
