/** What the script of a stage is given. */
export interface StageOptions {
  /** The page to show, as base64 of its UTF-8. */
  page: string;
  /** Source of a regular expression that finds names which would tell who made the page; null hides nothing. */
  names: string | null;
}

/**
 * Runs in the frame of a stage before anything of the output does. It waits until the app lets it begin, in a bout both stages at the same
 * moment, and then writes the page into its own document, so that the page finds none of this in it.
 *
 * What it does for the voter: names are hidden as dots wherever the page puts them, sound is off until it is asked for, and Escape always gives the
 * keyboard back. What it does against hostile pages: no frames within frames, which would escape what was taken out of the
 * outer one. It tells the booth two things only: that it is ready, when it is and when it is asked, and that Escape was pressed.
 *
 * Its source is put into the page as text: it may use nothing from outside itself.
 */
export function runStage({ page, names }: StageOptions): void {
  const { parent, document } = globalThis as unknown as Window;
  /** Opened in a window of its own, with nobody to tell it to begin. */
  const isAlone = parent === (globalThis as unknown);
  const post = parent.postMessage.bind(parent) as (message: string, targetOrigin: string) => void;
  const tell = (message: string, targetOrigin: string) => {
    if (!isAlone) post(message, targetOrigin);
  };
  const listen = globalThis.addEventListener.bind(globalThis);
  const { open, write, writeln, close } = Document.prototype;
  const pattern = names === null ? null : new RegExp(names, "giu");
  let hasBegun = false;
  let isLoud = false;

  const hide = (text: string): string =>
    pattern === null ? text : text.replace(pattern, (found) => found.replace(/[\p{L}\p{N}]/gu, "•"));

  // ---- The keyboard, and the words from the booth ----

  /** Since Escape, until the voter comes back with the pointer. */
  let isGivenBack = false;
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== "Escape" || !event.isTrusted) return;
    isGivenBack = true;
    if (document.pointerLockElement) document.exitPointerLock();
    tell("tourney:escape", "*");
  };
  // Escape takes the pointer away from the page first, and where the browser does that itself the key never comes here.
  let isFreeing = false;
  const { exitPointerLock } = Document.prototype;
  Document.prototype.exitPointerLock = function () {
    isFreeing = document.pointerLockElement !== null;
    exitPointerLock.call(this);
  };
  const onLockChange = () => {
    if (document.pointerLockElement !== null) {
      // Asked for before Escape and granted after it: on a busy machine a moment lies between the two.
      if (isGivenBack) document.exitPointerLock();
      return;
    }
    if (!isFreeing) tell("tourney:escape", "*");
    isFreeing = false;
  };
  const onMessage = (event: MessageEvent) => {
    // A page may speak to itself; what the booth or the other stage has to say is not for it.
    if (event.source === null || event.source === (globalThis as unknown)) return;
    event.stopImmediatePropagation();
    if (event.source !== parent) return;
    if (event.data === "tourney:begin") begin();
    // Whoever has the keyboard is asked whether it still lives.
    else if (event.data === "tourney:ask") tell("tourney:ready", "*");
    else if (event.data === "tourney:loud" || event.data === "tourney:quiet") setLoud(event.data === "tourney:loud");
  };
  /** Opening a document takes all listeners away from it: these are put back each time. */
  const arm = () => {
    listen("keydown", onKeyDown, { capture: true });
    listen("pointerlockchange", onLockChange, { capture: true });
    listen("message", onMessage, { capture: true });
    listen("pointerdown", onPointerDown, { capture: true });
    listen("focus", onFocus, { capture: true });
  };
  // The keyboard is given by the voter, never taken: what the page wants focused is, once the frame has been clicked into.
  const INVITED_MS = 1500;
  let invitedAt = -Infinity;
  let wanted: HTMLElement | SVGElement | null = null;
  const onPointerDown = (event: PointerEvent) => {
    if (!event.isTrusted) return;
    invitedAt = performance.now();
    isGivenBack = false;
  };
  const onFocus = (event: FocusEvent) => {
    if (event.target !== globalThis) return;
    if (performance.now() - invitedAt > INVITED_MS) tell("tourney:escape", "*");
    if (wanted?.isConnected === true) (wanted instanceof HTMLElement ? focus : focusDrawing).call(wanted as never);
    wanted = null;
  };
  const { focus } = HTMLElement.prototype;
  const { focus: focusDrawing } = SVGElement.prototype;
  const later = <T extends HTMLElement | SVGElement>(now: (this: T, options?: FocusOptions) => void) =>
    function (this: T, options?: FocusOptions) {
      if (document.hasFocus()) now.call(this, options);
      else wanted = this;
    };
  HTMLElement.prototype.focus = later(focus);
  SVGElement.prototype.focus = later(focusDrawing);
  globalThis.focus = () => undefined;
  const rearming = <Rest extends unknown[], T>(method: (this: Document, ...rest: Rest) => T) =>
    function (this: Document, ...rest: Rest): T {
      const result = method.apply(this, rest);
      arm();
      return result;
    };
  Object.assign(Document.prototype, {
    open: rearming(open as (this: Document, ...rest: string[]) => Document),
    write: rearming(write),
    writeln: rearming(writeln),
  });

  // ---- Names ----

  const SHOWN_ATTRIBUTES = ["alt", "title", "placeholder", "aria-label", "aria-description", "label", "value"];
  const DRAWN_ATTRIBUTES = ["src", "href", "xlink:href", "poster"];
  const FRAMES = "iframe, frame, frameset, object, embed, fencedframe, portal";
  /** Longer than this, an element's parts are not read together: a name stands in one of them. */
  const LONGEST_TOGETHER = 300;

  const hideInStyles = (css: string): string => css.replace(/"[^"\n]*"|'[^'\n]*'/g, hide);

  const cleanText = (node: Text) => {
    const tag = node.parentNode?.nodeName.toLowerCase();
    if (tag === "script") return;
    const hidden = tag === "style" ? hideInStyles(node.data) : hide(node.data);
    if (hidden !== node.data) node.data = hidden;
  };
  /** A drawing in an address can be read as well as any other text. */
  const hideInDrawing = (address: string): string => {
    const [, head = "", data = ""] = /^\s*(data:image\/svg\+xml[^,]*),(.*)$/is.exec(address) ?? [];
    if (head === "") return address;
    try {
      const isBase64 = /;\s*base64\s*$/i.test(head);
      const text = decodeURIComponent(isBase64 ? escape(atob(decodeURIComponent(data))) : data);
      const hidden = hide(text);
      return hidden === text ? address : `data:image/svg+xml,${encodeURIComponent(hidden)}`;
    } catch {
      return address;
    }
  };
  const cleanAttributes = (element: Element) => {
    for (const name of DRAWN_ATTRIBUTES) {
      const value = element.getAttribute(name);
      if (value === null || !/^\s*data:image\/svg/i.test(value)) continue;
      const hidden = hideInDrawing(value);
      if (hidden !== value) element.setAttribute(name, hidden);
    }
    for (const name of SHOWN_ATTRIBUTES) {
      const value = element.getAttribute(name);
      if (value === null) continue;
      const hidden = hide(value);
      if (hidden !== value) element.setAttribute(name, hidden);
    }
  };
  /** A name may be parted by tags, a letter in each of them. */
  const cleanTogether = (element: Element) => {
    if (element.childElementCount === 0 || /^(?:script|style)$/i.test(element.nodeName)) return;
    const whole = element.textContent;
    if (whole.length > LONGEST_TOGETHER) return;
    const hidden = hide(whole);
    if (hidden === whole) return;
    const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
    let at = 0;
    while (walker.nextNode()) {
      const text = walker.currentNode as Text;
      const { length } = text.data;
      text.data = hidden.slice(at, at + length);
      at += length;
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
        if (node instanceof HTMLMediaElement) silence(node);
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
      else if (type === "attributes" && pattern !== null) cleanAttributes(target as Element);
      else for (const node of addedNodes) gather(node);
    }
    if (pattern !== null) {
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
  const watch = (root: Node) =>
    observer.observe(root, {
      subtree: true,
      childList: true,
      characterData: true,
      attributes: true,
      attributeFilter: [...SHOWN_ATTRIBUTES, ...DRAWN_ATTRIBUTES],
    });
  watch(document);
  const { attachShadow } = Element.prototype;
  Element.prototype.attachShadow = function (init) {
    const root = attachShadow.call(this, init);
    watch(root);
    return root;
  };
  // No dialog may open; asking the browser for one without end would keep it from all else.
  Object.assign(globalThis, {
    alert: () => undefined,
    confirm: () => false,
    prompt: () => null,
    print: () => undefined,
  });
  // A document within the document would have all that was taken out of this one.
  for (const name of ["src", "srcdoc"])
    Object.defineProperty(HTMLIFrameElement.prototype, name, { get: () => "", set: () => undefined });
  const { setAttribute } = Element.prototype;
  Element.prototype.setAttribute = function (name, value) {
    if (!(this instanceof HTMLIFrameElement && /^src(?:doc)?$/i.test(name))) setAttribute.call(this, name, value);
  };
  /** A page without frames of its own, and without leave to lead itself away: policies would stop both, but only on the way. */
  const settle = (html: string): string =>
    html
      .replace(/<(?=i?frame\b|fencedframe\b)/gi, "<x-")
      .replace(/<meta\b[^>]*\bhttp-equiv\s*=\s*["']?\s*refresh[^>]*>/gi, "");

  if (pattern !== null) {
    for (const { prototype } of [HTMLInputElement, HTMLTextAreaElement]) {
      const own = Object.getOwnPropertyDescriptor(prototype, "value")!;
      Object.defineProperty(prototype, "value", {
        ...own,
        set(this: HTMLInputElement, value: unknown) {
          own.set!.call(this, typeof value === "string" ? hide(value) : value);
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
      setProperty.call(this, name, value !== null && name.startsWith("--") ? hideInStyles(value) : value, priority);
    };
  }

  // ---- Sound ----

  const gates: GainNode[] = [];
  const gateOf = new WeakMap<BaseAudioContext, GainNode>();
  const medias = new Set<WeakRef<HTMLMediaElement>>();
  const wantsMuted = new WeakMap<HTMLMediaElement, boolean>();
  const muted = Object.getOwnPropertyDescriptor(HTMLMediaElement.prototype, "muted")!;

  function setLoud(loud: boolean) {
    isLoud = loud;
    for (const gate of gates) gate.gain.value = loud ? 1 : 0;
    for (const reference of medias) {
      const media = reference.deref();
      if (media) muted.set!.call(media, !loud || (wantsMuted.get(media) ?? false));
    }
    if (!loud) globalThis.speechSynthesis?.cancel();
  }
  function silence(media: HTMLMediaElement) {
    if (!wantsMuted.has(media)) {
      wantsMuted.set(media, media.hasAttribute("muted"));
      medias.add(new WeakRef(media));
    }
    muted.set!.call(media, !isLoud || (wantsMuted.get(media) ?? false));
  }
  Object.defineProperty(HTMLMediaElement.prototype, "muted", {
    get(this: HTMLMediaElement) {
      return wantsMuted.get(this) ?? this.hasAttribute("muted");
    },
    set(this: HTMLMediaElement, value: boolean) {
      silence(this);
      wantsMuted.set(this, value);
      muted.set!.call(this, !isLoud || value);
    },
  });
  const { play } = HTMLMediaElement.prototype;
  HTMLMediaElement.prototype.play = function () {
    silence(this);
    return play.call(this);
  };
  const { connect, disconnect } = AudioNode.prototype as unknown as Record<
    "connect" | "disconnect",
    (this: AudioNode, ...rest: unknown[]) => unknown
  >;
  /** What goes to the loudspeakers goes through a gate first; what is only computed does not. */
  const gateFor = (target: unknown): GainNode | null => {
    if (!(target instanceof AudioDestinationNode) || target.context instanceof OfflineAudioContext) return null;
    const known = gateOf.get(target.context);
    if (known) return known;
    const gate = target.context.createGain();
    gate.gain.value = isLoud ? 1 : 0;
    connect.call(gate, target);
    gateOf.set(target.context, gate);
    gates.push(gate);
    return gate;
  };
  Object.assign(AudioNode.prototype, {
    connect(this: AudioNode, target: unknown, ...rest: unknown[]) {
      const gate = gateFor(target);
      if (gate === null) return connect.call(this, target, ...rest);
      connect.call(this, gate, ...rest);
      return target;
    },
    disconnect(this: AudioNode, ...rest: unknown[]) {
      return disconnect.call(this, ...rest.map((part, index) => (index === 0 ? (gateFor(part) ?? part) : part)));
    },
  });
  if (typeof SpeechSynthesis === "function") {
    const { speak } = SpeechSynthesis.prototype;
    SpeechSynthesis.prototype.speak = function (utterance) {
      if (isLoud) speak.call(this, utterance);
    };
  }

  // ---- Beginning ----

  function begin() {
    if (hasBegun) return;
    hasBegun = true;
    const html = new TextDecoder().decode(Uint8Array.from(atob(page), (char) => char.charCodeAt(0)));
    (open as () => Document).call(document);
    arm();
    write.call(document, settle(html));
    close.call(document);
  }

  arm();
  tell("tourney:ready", "*");
  // A page that started itself afresh, as games do to be played again, does not wait a second time.
  const [navigation] = performance.getEntriesByType("navigation") as PerformanceNavigationTiming[];
  if (isAlone) setLoud(true);
  if (isAlone || navigation?.type === "reload") begin();
}
