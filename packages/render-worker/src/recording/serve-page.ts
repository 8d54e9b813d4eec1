import type { Substitution } from "@tourney/core/contract";
import type { Shelf } from "@tourney/store";
import { dropIntegrity, STAGE_SANDBOX, wrapDrawing } from "@tourney/core/stage";

/** The files of an entry by their path, as served to the page. */
export type FileMap = ReadonlyMap<string, Buffer>;

/**
 * The host that an entry is served under while it is recorded. Names under .localhost never leave the machine (RFC 6761), and
 * pages on them may use what needs a secure context, as they may on the exhibit origin.
 */
export const ENTRY_ORIGIN = "http://entry.localhost";
/** The page around the entry: what the app is around a live frame. */
export const HOST_ADDRESS = "http://stage.localhost/";
const HOST_ORIGIN = HOST_ADDRESS.slice(0, -1);

export type Served =
  | { kind: "found"; body: Buffer; headers: Record<string, string>; substitution?: Substitution | null }
  | { kind: "missing"; path: string; isUsual: boolean }
  | { kind: "blocked"; library: string | null };

/** Answers a request of the recorded page by its address. */
export type ServePage = (url: string) => Promise<Served>;

const MIME: Record<string, string> = {
  html: "text/html; charset=utf-8",
  htm: "text/html; charset=utf-8",
  svg: "image/svg+xml",
  css: "text/css; charset=utf-8",
  js: "text/javascript; charset=utf-8",
  mjs: "text/javascript; charset=utf-8",
  json: "application/json",
  txt: "text/plain; charset=utf-8",
  wasm: "application/wasm",
};

const extensionOf = (path: string): string => path.slice(path.lastIndexOf(".") + 1).toLowerCase();

/** What a page looks for by habit, whether it is there or not. */
const USUAL = /^(favicon\.ico|.*\.map)$/;

/** Answers from the entry's own files and from the shelf; all else is refused. */
export function createServePage(files: FileMap, entryPath: string, shelf: Shelf): ServePage {
  return async (address) => {
    if (address === HOST_ADDRESS) return found(Buffer.from(hostPage(entryPath)), "text/html; charset=utf-8");
    const url = URL.parse(address);
    if (url?.origin === HOST_ORIGIN) return { kind: "missing", path: url.pathname, isUsual: true };
    if (url?.origin === ENTRY_ORIGIN) return serveFile(decodePath(url.pathname), files, entryPath);
    const onShelf = await shelf.find(address);
    if (onShelf.kind === "found")
      return { ...found(onShelf.body, onShelf.contentType), substitution: onShelf.substitution };
    return { kind: "blocked", library: onShelf.library };
  };
}

/** A frame without an origin may load its own modules, fonts and data only where it is told that it may. */
const found = (body: Buffer, contentType: string): Extract<Served, { kind: "found" }> => ({
  kind: "found",
  body,
  headers: { "Content-Type": contentType, "Access-Control-Allow-Origin": "*" },
});

function serveFile(path: string, files: FileMap, entryPath: string): Served {
  const body = files.get(path);
  if (!body) return { kind: "missing", path, isUsual: USUAL.test(path) };
  const extension = extensionOf(path);
  if (path === entryPath && extension === "svg")
    return found(Buffer.from(wrapDrawing(body.toString("utf8"))), MIME["html"]!);
  if (path === entryPath || extension.startsWith("htm")) {
    const text = body.toString("utf8");
    const { html, dropped } = dropIntegrity(text);
    return found(dropped === 0 ? body : Buffer.from(html), MIME["html"]!);
  }
  return found(body, MIME[extension] ?? "application/octet-stream");
}

/**
 * The entry is framed as a voter sees it, with the keyboard given to it. Dialogs and downloads, which a voter's frame leaves out
 * without a word, are let through as far as the browser, which refuses them and tells the recorder. It has the origin of its own
 * files, which for a voter are put into its document: so pictures of its own taint no canvas in either.
 */
function hostPage(entryPath: string): string {
  const address = `${ENTRY_ORIGIN}/${entryPath.split("/").map(encodeURIComponent).join("/")}`;
  return `<!doctype html><style>html,body{margin:0;height:100%;overflow:hidden}iframe{display:block;border:0;width:100%;height:100%}</style><iframe src="${address}" sandbox="${STAGE_SANDBOX} allow-same-origin allow-modals allow-downloads" onload="this.focus()"></iframe>`;
}

function decodePath(pathname: string): string {
  try {
    return decodeURIComponent(pathname.slice(1));
  } catch {
    // A malformed escape names no file.
    return pathname.slice(1);
  }
}
