import type { FindNames } from "@tourney/core/blinding";

/** What stands for names, and for what was blanked before. */
export interface Dots {
  shown: string;
  /** A letter that stands in what programs refer to; where people read it, it is a dot. */
  letter: string;
}

/**
 * Watches what a page puts into its document: names become dots wherever they are shown, and frames go, which would escape what was taken out of
 * this one.
 *
 * Its source is put into the page as text: it may use nothing from outside itself.
 *
 * @param find null where no name is to be hidden
 * @returns what becomes of a page's text before it is written
 */
export function watchPage({
  find,
  dots,
  onMedia,
}: {
  find: FindNames | null;
  dots: Dots;
  onMedia: (media: HTMLMediaElement) => void;
}): (html: string) => string {
  const { document } = globalThis;
  const dotted = (text: string) =>
    text.includes(dots.letter) ? text.replace(new RegExp(`${dots.letter}+`, "g"), dots.shown) : text;
  /** Parts of one text, a name in which may go over several of them. */
  const hideAcross = (parts: readonly string[]): string[] => {
    const found = find === null ? [] : find(parts.join(""));
    if (found.length === 0) return parts.map(dotted);
    let at = 0;
    return parts.map((part) => {
      const [from, to] = [at, at + part.length];
      at = to;
      let [shown, done] = ["", from];
      for (const [start, end] of found) {
        if (end <= from || start >= to) continue;
        shown += part.slice(done - from, Math.max(0, start - from)) + (start >= from ? dots.shown : "");
        done = Math.min(end, to);
      }
      return dotted(shown + part.slice(done - from));
    });
  };
  const hide = (text: string): string => hideAcross([text])[0]!;

  // ---- Style sheets ----

  const unescapeStyle = (text: string) =>
    text.replace(/\\(?:([0-9a-f]{1,6})[ \t\n\f\r]?|\r?\n|([\s\S]))/gi, (_, code?: string, char?: string) =>
      code === undefined ? (char ?? "") : String.fromCodePoint(Math.min(Number.parseInt(code, 16) || 0xfffd, 0x10ffff)),
    );
  const STRING = /"(?:[^"\\\n]|\\[\s\S])*"|'(?:[^'\\\n]|\\[\s\S])*'/g;
  /** Strings of one declaration are shown one after the other. */
  const hideInDeclaration = (value: string): string => {
    const strings = value.match(STRING);
    if (strings === null) return value;
    const read = strings.map((string) => unescapeStyle(string.slice(1, -1)));
    const isAddress = read.map((text) => /^\s*data:/i.test(text));
    const shown = hideAcross(read.map((text, index) => (isAddress[index] ? "" : text)));
    let index = -1;
    return value.replace(STRING, (string) => {
      index++;
      const text = isAddress[index] ? hideInData(read[index]!) : shown[index]!;
      return text === read[index]
        ? string
        : `"${text.replace(/["\\\n]/g, (char) => `\\${char.charCodeAt(0).toString(16)} `)}"`;
    });
  };
  const hideInStyles = (css: string): string => {
    for (const [, name] of css.matchAll(/\battr\(\s*([\w-]{1,100})/gi)) watchAttribute(name!.toLowerCase());
    if (!/["']|data:/i.test(css)) return css;
    // Declaration by declaration; what is cut off here is never gone back into.
    return css
      .replace(/(?:[^;{}"']+|"(?:[^"\\\n]|\\[\s\S])*"|'(?:[^'\\\n]|\\[\s\S])*')+|[;{}"']/g, (part) =>
        /["']/.test(part) ? hideInDeclaration(part) : part,
      )
      .replace(/url\(\s*(data:[^"'()\s]*)\s*\)/gi, (whole, address: string) => {
        const hidden = hideInData(address);
        return hidden === address ? whole : `url("${hidden}")`;
      });
  };

  // ---- Addresses ----

  /** A drawing or a sheet in an address can be read as well as any other text. */
  const hideInData = (address: string): string => {
    const [, type = "", head = "", data = ""] =
      /^\s*data:((image\/svg\+xml|text\/css)[^,]*),(.*)$/is.exec(address) ?? [];
    if (type === "") return address;
    try {
      const isBase64 = /;\s*base64\s*$/i.test(type);
      const text = isBase64
        ? new TextDecoder().decode(Uint8Array.from(atob(decodeURIComponent(data)), (char) => char.charCodeAt(0)))
        : decodeURIComponent(data);
      const hidden = head.toLowerCase() === "text/css" ? hideInStyles(text) : hide(text);
      return hidden === text
        ? address
        : `data:${head};charset=utf-8,${encodeURIComponent(hidden).replace(/[()']/g, (char) => `%${char.charCodeAt(0).toString(16)}`)}`;
    } catch {
      return address;
    }
  };
  const hideInSources = (value: string): string =>
    /data:/i.test(value)
      ? value.replace(/data:(?:image\/svg\+xml|text\/css)[^\s]*/gi, (address) => hideInData(address))
      : value;

  // ---- Elements ----

  const SHOWN = new Set([
    "alt",
    "title",
    "placeholder",
    "aria-label",
    "aria-description",
    "label",
    "value",
    "summary",
    "content",
  ]);
  const DRAWN = ["src", "href", "xlink:href", "poster", "srcset", "data"];
  const FRAMES = "iframe, frame, frameset, object, embed, fencedframe, portal";
  /** Longer than this, an element's parts are not read together: a name stands in one of them. */
  const LONGEST_TOGETHER = 300;

  const cleanText = (node: Text) => {
    const tag = node.parentNode?.nodeName.toLowerCase();
    if (tag === "script") return;
    const hidden = tag === "style" ? hideInStyles(node.data) : hide(node.data);
    if (hidden !== node.data) node.data = hidden;
  };
  const cleanAttribute = (element: Element, name: string, how: (value: string) => string) => {
    const value = element.getAttribute(name);
    if (value === null) return;
    const hidden = how(value);
    if (hidden !== value) element.setAttribute(name, hidden);
  };
  const cleanAttributes = (element: Element) => {
    if (!element.hasAttributes()) return;
    for (const name of DRAWN) cleanAttribute(element, name, hideInSources);
    for (const name of SHOWN) cleanAttribute(element, name, hide);
    if (/["']|data:/i.test(element.getAttribute("style") ?? "")) cleanAttribute(element, "style", hideInStyles);
  };
  /** A name may be parted by tags, a letter in each of them. */
  const cleanTogether = (element: Element) => {
    if (element.childElementCount === 0 || /^(?:script|style)$/i.test(element.nodeName)) return;
    if (element.textContent.length > LONGEST_TOGETHER) return;
    const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
    const texts: Text[] = [];
    while (walker.nextNode()) texts.push(walker.currentNode as Text);
    const hidden = hideAcross(texts.map(({ data }) => data));
    for (const [index, text] of texts.entries()) if (text.data !== hidden[index]) text.data = hidden[index]!;
  };
  /** A shadow tree that is written down in the page is made here, so that it can be looked into. */
  const openShadow = (template: HTMLTemplateElement): Node[] => {
    const host = template.parentElement;
    template.remove();
    try {
      const root = host?.attachShadow({ mode: "open" });
      root?.append(template.content);
      return [...(root?.childNodes ?? [])];
    } catch {
      // It has one already, or may have none.
      return [];
    }
  };
  const onMutations = (records: MutationRecord[]) => {
    const texts = new Set<Text>();
    const elements = new Set<Element>();
    // Without recursion: a page may be nested deeper than the stack.
    const gather = (root: Node) => {
      for (const waiting = [root]; waiting.length > 0;) {
        const node = waiting.pop()!;
        if (node instanceof Text) texts.add(node);
        if (!(node instanceof Element) || elements.has(node)) continue;
        elements.add(node);
        if (node.matches(FRAMES)) node.remove();
        if (node instanceof HTMLMediaElement) onMedia(node);
        if (node instanceof HTMLTemplateElement && node.hasAttribute("data-shadowrootmode"))
          waiting.push(...openShadow(node));
        waiting.push(...node.childNodes);
        if (node.shadowRoot) {
          watch(node.shadowRoot);
          waiting.push(...node.shadowRoot.childNodes);
        }
      }
    };
    const together = new Set<Element>();
    for (const { type, target, addedNodes } of records) {
      if (type === "characterData") texts.add(target as Text);
      else if (type === "attributes" && find !== null) cleanAttributes(target as Element);
      else for (const node of addedNodes) gather(node);
    }
    if (find !== null) {
      for (const element of elements) cleanAttributes(element);
      for (const text of texts) {
        cleanText(text);
        let above = text.parentElement;
        for (let level = 0; above !== null && level < 3; level++) {
          together.add(above);
          above = above.parentElement;
        }
      }
      for (const element of together) cleanTogether(element);
    }
    // What cleaning changed has been seen.
    observer.takeRecords();
  };
  const observer = new MutationObserver(onMutations);
  const roots: WeakRef<Node>[] = [];
  const observe = (root: Node) =>
    observer.observe(root, {
      subtree: true,
      childList: true,
      characterData: true,
      attributes: true,
      attributeFilter: [...SHOWN, ...DRAWN],
    });
  const watch = (root: Node) => {
    roots.push(new WeakRef(root));
    observe(root);
  };
  /** An attribute that a sheet shows. */
  const watchAttribute = (name: string) => {
    if (SHOWN.has(name) || SHOWN.size > 200) return;
    SHOWN.add(name);
    for (const root of roots) {
      const node = root.deref();
      if (!(node instanceof Document || node instanceof DocumentFragment)) continue;
      observe(node);
      for (const element of node.querySelectorAll(`[${CSS.escape(name)}]`)) cleanAttribute(element, name, hide);
    }
  };
  watch(document);
  const { attachShadow } = Element.prototype;
  Element.prototype.attachShadow = function (init) {
    const root = attachShadow.call(this, init);
    watch(root);
    return root;
  };
  /** A page without frames of its own or shadow trees that nobody can look into, and without leave to lead itself away. */
  const settle = (html: string): string =>
    html
      .replace(/<(?=i?frame\b|fencedframe\b)/gi, "<x-")
      .replace(/\bshadowrootmode(?=[\s=>/])/gi, "data-shadowrootmode")
      .replace(/<meta\b[^>]*\bhttp-equiv\s*=\s*(?:["']\s*)?refresh[^>]*>/gi, "");
  for (const owner of [Element.prototype, ShadowRoot.prototype, Document] as unknown as Record<string, unknown>[]) {
    for (const name of ["setHTMLUnsafe", "parseHTMLUnsafe"]) {
      const own = owner[name] as ((this: unknown, ...all: unknown[]) => unknown) | undefined;
      if (own === undefined) continue;
      owner[name] = function (this: unknown, html: unknown, ...rest: unknown[]): unknown {
        return own.call(this, settle(String(html)), ...rest);
      };
    }
  }
  if (find === null) return settle;

  // ---- What never comes into the document ----

  for (const { prototype } of [HTMLInputElement, HTMLTextAreaElement]) {
    const own = Object.getOwnPropertyDescriptor(prototype, "value")!;
    Object.defineProperty(prototype, "value", {
      ...own,
      set(this: HTMLInputElement, value: unknown) {
        own.set!.call(this, typeof value === "string" ? hide(value) : value);
      },
    });
  }
  for (const [prototype, name, how] of [
    [HTMLImageElement.prototype, "src", hideInSources],
    [HTMLImageElement.prototype, "srcset", hideInSources],
    [CSSStyleDeclaration.prototype, "cssText", hideInStyles],
  ] as const) {
    const own = Object.getOwnPropertyDescriptor(prototype, name)!;
    Object.defineProperty(prototype, name, {
      ...own,
      set(this: unknown, value: unknown) {
        own.set!.call(this, how(String(value)));
      },
    });
  }
  const { insertRule, replace, replaceSync } = CSSStyleSheet.prototype;
  Object.assign(CSSStyleSheet.prototype, {
    insertRule(this: CSSStyleSheet, rule: string, index?: number) {
      return insertRule.call(this, hideInStyles(rule), index);
    },
    replace(this: CSSStyleSheet, css: string) {
      return replace.call(this, hideInStyles(css));
    },
    replaceSync(this: CSSStyleSheet, css: string) {
      replaceSync.call(this, hideInStyles(css));
    },
  });
  const { setProperty } = CSSStyleDeclaration.prototype;
  CSSStyleDeclaration.prototype.setProperty = function (name, value, priority) {
    setProperty.call(this, name, value === null ? value : hideInStyles(value), priority);
  };
  // A drawing or a sheet that is made while the page runs.
  const OwnBlob = Blob;
  globalThis.Blob = new Proxy(OwnBlob, {
    construct(target, [parts, options]: [BlobPart[]?, BlobPropertyBag?], newTarget) {
      const type = String(options?.type ?? "");
      const isText = /svg|css/i.test(type) && Array.isArray(parts) && parts.every((part) => typeof part === "string");
      const whole = isText ? [(/css/i.test(type) ? hideInStyles : hide)(parts.join(""))] : parts;
      return Reflect.construct(target, [whole, options].slice(0, options === undefined ? 1 : 2), newTarget) as Blob;
    },
  });

  // ---- What sheets put together ----

  /** So many elements are looked at at once, and so often. */
  const MOST_AT_ONCE = 300;
  const LOOK_EVERY_MS = 500;
  const covers = new CSSStyleSheet();
  let covered = 0;
  let lookedAt = 0;
  const cover = (element: Element, pseudo: string) => {
    const mark = `data-dots-${covered++}`;
    element.setAttribute(mark, "");
    insertRule.call(covers, `[${mark}]${pseudo}{content:"${dots.shown}"!important}`);
    const root = element.getRootNode();
    if ((root instanceof Document || root instanceof ShadowRoot) && !root.adoptedStyleSheets.includes(covers))
      root.adoptedStyleSheets = [...root.adoptedStyleSheets, covers];
  };
  /** Values of several variables, counters and quotes make one text only when they are shown. */
  const lookAtGenerated = () => {
    const all = document.body?.querySelectorAll("*") ?? [];
    if (lookedAt >= all.length) lookedAt = 0;
    const end = Math.min(all.length, lookedAt + MOST_AT_ONCE);
    for (; lookedAt < end; lookedAt++) {
      for (const pseudo of ["::before", "::after", "::marker"]) {
        const { content } = getComputedStyle(all[lookedAt]!, pseudo);
        const text = (content.match(STRING) ?? []).map((string) => unescapeStyle(string.slice(1, -1))).join("");
        if (text !== "" && find(text).length > 0) cover(all[lookedAt]!, pseudo);
      }
    }
  };
  setInterval(() => {
    if (!document.hidden) lookAtGenerated();
  }, LOOK_EVERY_MS);
  return settle;
}
