const MIME: Record<string, string> = {
  html: "text/html; charset=utf-8",
  htm: "text/html; charset=utf-8",
  css: "text/css; charset=utf-8",
  js: "text/javascript; charset=utf-8",
  mjs: "text/javascript; charset=utf-8",
  json: "application/json",
  svg: "image/svg+xml",
};

/** What follows the last point, in small letters. */
export const extensionOf = (path: string): string => path.slice(path.lastIndexOf(".") + 1).toLowerCase();

/** The media type that a file of an output is served with. */
export const typeOf = (path: string): string => MIME[extensionOf(path)] ?? "application/octet-stream";
