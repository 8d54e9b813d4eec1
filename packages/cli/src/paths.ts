import { join } from "node:path";

/** The repository's folder: this file is packages/cli/dist/paths.js. */
export const ROOT = join(import.meta.dirname, "..", "..", "..");
export const STATE_DIR = join(ROOT, ".tourney");
/** Libraries that stand in for public hosts: one shelf for all instances. */
export const SHELF_DIR = process.env["TOURNEY_SHELF_DIR"] ?? join(STATE_DIR, "shelf");

/** The programs of the other packages, which are started and never imported. */
export const PROGRAMS = {
  server: join(ROOT, "packages/server/dist/main.js"),
  admin: join(ROOT, "packages/server/dist/admin.js"),
  generateWorker: join(ROOT, "packages/server/dist/worker.js"),
  renderWorker: join(ROOT, "packages/render-worker/dist/main.js"),
  render: join(ROOT, "packages/render-worker/dist/render-cli.js"),
  standIn: join(ROOT, "packages/stand-in-model/dist/main.js"),
} as const;

/**
 * The server with its flags. V8 would by itself set 30 MB aside for new objects, and let the heap grow by half and more in a busy second before it clears it. With 4 MB in place of 8 it
 * clears new objects so often that a followed wall takes 29 ms of the server's processor in place of 25.
 */
export const SERVER_COMMAND = ["--heap-growing-percent=20", "--max-semi-space-size=8", PROGRAMS.server] as const;

export const WEB_DIR = join(ROOT, "packages/web/dist");
