/** What an output may do in its frame, live and while it is recorded: it has no origin, and opens and downloads nothing. */
export const STAGE_SANDBOX = "allow-scripts allow-forms allow-pointer-lock";

/**
 * What runs in every document of the exhibit origin before the page's own scripts.
 * - WebRTC's constructors go, because no policy shuts them.
 * - Storage and cookies, which a frame without an origin of its own has not, are stood in for in memory, so that a page which
 *   saves a high score works.
 */
export const STAGE_PRELUDE = `(() => {
  for (const name of ["RTCPeerConnection", "webkitRTCPeerConnection", "RTCDataChannel"]) delete globalThis[name];
  const makeStorage = () => {
    const items = new Map();
    const methods = {
      key: (index) => [...items.keys()][index] ?? null,
      getItem: (key) => items.get(String(key)) ?? null,
      setItem: (key, value) => void items.set(String(key), String(value)),
      removeItem: (key) => void items.delete(String(key)),
      clear: () => items.clear(),
    };
    // Items are properties too, as in storage.best = 7.
    return new Proxy(methods, {
      get: (target, key) => key === "length" ? items.size : key in target ? target[key] : items.get(key),
      set: (_target, key, value) => (items.set(String(key), String(value)), true),
      has: (target, key) => key in target || items.has(key),
      deleteProperty: (_target, key) => (items.delete(key), true),
      ownKeys: () => [...items.keys()],
      getOwnPropertyDescriptor: (_target, key) =>
        items.has(key) ? { value: items.get(key), writable: true, enumerable: true, configurable: true } : undefined,
    });
  };
  for (const name of ["localStorage", "sessionStorage"]) {
    const storage = makeStorage();
    Object.defineProperty(globalThis, name, { get: () => storage, configurable: true });
  }
  const cookies = new Map();
  Object.defineProperty(Document.prototype, "cookie", {
    get: () => [...cookies].map(([name, value]) => name + "=" + value).join("; "),
    set: (text) => {
      const [pair, ...attributes] = String(text).split(";");
      const [name, ...value] = pair.split("=");
      const isOver = attributes.some((part) => /^\\s*max-age\\s*=\\s*(0|-)/i.test(part) || /^\\s*expires\\s*=.*19[67]\\d/i.test(part));
      if (isOver) cookies.delete(name.trim());
      else cookies.set(name.trim(), value.join("=").trim());
    },
    configurable: true,
  });
  document.currentScript?.remove();
})();`;

/** An SVG drawing as a page, so that it is shown under the same conditions as every other output. */
export function wrapDrawing(svg: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Drawing</title><style>html,body{margin:0;height:100%;background:#fff}svg{display:block;width:100%;height:100%}</style>${svg.replace(/^\s*<\?xml[^>]*\?>\s*/i, "")}`;
}

/**
 * The document with the `integrity` of addresses on other hosts taken out: what is answered from the shelf instead is
 * another build of the same library, which a browser would refuse.
 *
 * @returns the text, and how many were taken out.
 */
export function dropIntegrity(html: string): { html: string; dropped: number } {
  let dropped = 0;
  const without = html.replace(/<(?:script|link)\b(?:"[^"]*"|'[^']*'|[^"'>])*>/gi, (tag) => {
    if (!/\s(?:src|href)\s*=\s*(?:["']\s*)?(?:https?:)?\/\//i.test(tag)) return tag;
    return tag.replace(/\sintegrity\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>]+)/gi, (integrity) => {
      dropped++;
      // As long as before, so that places in the page stay where they are.
      return " ".repeat(integrity.length);
    });
  });
  return { html: without, dropped };
}
