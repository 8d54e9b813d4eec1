import { addressLibraries } from "@tourney/core/shelf";
import { addPrelude, dropIntegrity, STAGE_SANDBOX, wrapDrawing } from "@tourney/core/stage";
import express, { type ErrorRequestHandler, type Express, type Response } from "express";
import type { BlobStore, Shelf } from "@tourney/store";
import type { StoredFiles } from "../entries/repository.js";
import { logRequests } from "../http/middleware.js";
import type { Logger } from "pino";
import type { LiveAddresses } from "./live-address.js";

export interface ExhibitDeps {
  appOrigin: string;
  /** Of this app itself, under which it serves the shelf. */
  exhibitOrigin: string;
  blobs: BlobStore;
  shelf: Shelf;
  live: LiveAddresses;
  findFiles: (entryId: string) => Promise<StoredFiles | null>;
  findByStageToken: (token: string) => Promise<string | null>;
  log: Logger;
}

const MIME: Record<string, string> = {
  html: "text/html; charset=utf-8",
  htm: "text/html; charset=utf-8",
  css: "text/css; charset=utf-8",
  js: "text/javascript; charset=utf-8",
  mjs: "text/javascript; charset=utf-8",
  json: "application/json",
};

/** The name a voter's browser sees for the page to open, whatever the model called it. */
const STAGE_PAGE = "page";

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
  app.use((_request, response, next) => {
    response.set(exhibitHeaders(deps.appOrigin));
    next();
  });
  app.get("/live/:token/*path", async (request, response) => {
    const entryId = deps.live.read(request.params.token);
    const files = entryId === null ? null : await deps.findFiles(entryId);
    await serveFile(files, joinPath(request), response, deps);
  });
  app.get("/stage/:token/*path", async (request, response) => {
    const entryId = await deps.findByStageToken(request.params.token);
    const files = entryId === null ? null : await deps.findFiles(entryId);
    const path = joinPath(request);
    await serveFile(files, path === STAGE_PAGE ? (files?.entryPath ?? "") : path, response, deps);
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
    const body = isText ? addressLibraries(found.body.toString("utf8"), shelfBase(deps)) : found.body;
    response.set("Content-Type", found.contentType).send(body);
  });
  app.use((_request, response) => refuse(response));
  const onError: ErrorRequestHandler = (error: unknown, request, response, _next) => {
    request.log.error({ err: error }, "an exhibit could not be served");
    refuse(response, 500);
  };
  app.use(onError);
  return app;
}

/** Where a live page finds what it asks of public hosts. */
const shelfBase = ({ exhibitOrigin }: ExhibitDeps): string => `${exhibitOrigin}/shelf`;

/** The address of one stage of a bout: the same shape for every output. */
export const stageAddress = (exhibitOrigin: string, token: string): string =>
  `${exhibitOrigin}/stage/${token}/${STAGE_PAGE}`;

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
    `sandbox ${STAGE_SANDBOX} allow-modals`,
  ];
  return {
    "Content-Security-Policy": policy.join("; "),
    "Cache-Control": "no-store",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
    "Permissions-Policy":
      "camera=(), microphone=(), geolocation=(), display-capture=(), clipboard-read=(), clipboard-write=(), payment=(), usb=()",
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
  deps: ExhibitDeps,
): Promise<void> {
  const file = stored?.files.find((candidate) => candidate.path === path);
  const bytes = file ? await deps.blobs.find(file.sha256) : null;
  if (bytes === null) {
    refuse(response);
    return;
  }
  const extension = path.slice(path.lastIndexOf(".") + 1).toLowerCase();
  const isPage = path === stored?.entryPath;
  const isDrawing = extension === "svg";
  if (isPage || extension.startsWith("htm")) {
    const text = addressLibraries(dropIntegrity(bytes.toString("utf8")).html, shelfBase(deps));
    response.set("Content-Type", MIME["html"]).send(addPrelude(isDrawing ? wrapDrawing(text) : text));
    return;
  }
  if (["css", "js", "mjs"].includes(extension)) {
    response.set("Content-Type", MIME[extension]).send(addressLibraries(bytes.toString("utf8"), shelfBase(deps)));
    return;
  }
  response
    .set("Content-Type", isDrawing ? "image/svg+xml" : (MIME[extension] ?? "application/octet-stream"))
    .send(bytes);
}

function refuse(response: Response, status = 404): void {
  response.status(status).set("Content-Type", "text/plain; charset=utf-8").send("There is nothing here.\n");
}
