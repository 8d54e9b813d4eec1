import type { Fence } from "./fences.js";

const FILE_NAME = /(?:[\w@.-]+\/)*[\w@-][\w@.-]*\.(?:html?|svg|css|m?js|json|txt|glsl|wgsl|jsx|tsx?|vue)/i;
const WHOLE_NAME = new RegExp(`^${FILE_NAME.source}$`, "i");
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i;
const LONGEST_PATH = 200;

/**
 * A file name as an answer gave it, made safe to use as a relative path, or null when it cannot be:
 * nothing absolute, no way upwards, no drive letter, no control character, none that systems or objects reserve.
 */
export function toSafePath(name: string): string | null {
  const path = name
    .trim()
    .replaceAll("\\", "/")
    .replace(/^(\.\/)+/, "");
  // eslint-disable-next-line no-control-regex -- control characters are what this looks for
  if (path === "" || path.length > LONGEST_PATH || /[\u0000-\u001f\u007f:*?"<>|]/.test(path)) return null;
  const parts = path.split("/");
  const isBad = (part: string) =>
    part === "" || part === "." || part === ".." || part === "__proto__" || RESERVED.test(part) || part.endsWith(".");
  return parts.some(isBad) ? null : path;
}

/** The name in the fence's info string: ```html index.html, ```index.html, ```html title="index.html", ```html:index.html */
function findInInfo({ language, meta }: Fence): string | null {
  if (WHOLE_NAME.test(language)) return language;
  const colon = /^[a-z]+:(.+)$/.exec(language)?.[1];
  if (colon !== undefined && WHOLE_NAME.test(colon)) return colon;
  const attribute = /(?:title|file|filename|name)=["']?([^"'\s]+)/i.exec(meta)?.[1];
  if (attribute !== undefined && WHOLE_NAME.test(attribute)) return attribute;
  return meta.split(" ").find((word) => WHOLE_NAME.test(word)) ?? null;
}

/** The name in a heading, bold text or a code span on the last line of prose before the fence. */
function findInProse({ before }: Fence): string | null {
  const last = before.trimEnd().split("\n").at(-1)?.trim() ?? "";
  if (last.length > 120) return null;
  const marked = /`([^`]+)`|\*\*([^*]+)\*\*|^#+\s*(.+?):?$/.exec(last);
  const candidate = (marked?.[1] ?? marked?.[2] ?? marked?.[3] ?? last).replace(/:$/, "").trim();
  return WHOLE_NAME.test(candidate) ? candidate : null;
}

/** The name in a comment on the fence's first line, as HTML, CSS and JavaScript write them. */
function findInFirstLine({ content }: Fence): string | null {
  const first = content.split("\n", 1)[0]!.trim();
  const comment = /^(?:<!--\s*(.+?)\s*-->|\/\*\s*(.+?)\s*\*\/|\/\/\s*(.+?))$/.exec(first);
  const candidate = (comment?.[1] ?? comment?.[2] ?? comment?.[3] ?? "").replace(/^(?:file(?:name)?:)\s*/i, "");
  return WHOLE_NAME.test(candidate) ? candidate : null;
}

/** The file name an answer gives a fence, as written, or null. */
export function findFileName(fence: Fence): string | null {
  return findInInfo(fence) ?? findInProse(fence) ?? findInFirstLine(fence);
}
