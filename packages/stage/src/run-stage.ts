import type { createNameFinder, HiddenNames } from "@tourney/core/blinding";
import type { ShareInputs } from "./share-inputs.js";
import type { Dots, watchPage } from "./watch-page.js";

/** What the script of a stage is given. */
export interface StageOptions {
  /** The page to show: base64 of its UTF-8, packed by gzip. */
  page: string;
  /** Names that would tell who made the page, as hashes; null hides nothing. */
  names: HiddenNames | null;
  dots: Dots;
}

/** What it uses of others, of each the text. */
export interface StageParts {
  createNameFinder: typeof createNameFinder;
  watchPage: typeof watchPage;
  /** In a comparison. */
  shareInputs: ShareInputs | null;
}

/**
 * Runs in the frame of a stage before anything of the output does. It waits until the app lets it begin, in a bout both stages at the same
 * moment, and then writes the page into its own document, so that the page finds none of this in it.
 *
 * What it does for the voter: names are hidden as dots wherever the page puts them, sound is off until it is asked for, and Escape always gives the
 * keyboard back. What it does against hostile pages: no frames within frames, which would escape what was taken out of the
 * outer one. It speaks with the app through a channel that the app hands over, which no page ever holds, and says two things only: that it is
 * ready, when it is and when it is asked, and that Escape was pressed.
 *
 * Its source is put into the page as text: it may use nothing from outside itself.
 */
export function runStage({ page, names, dots }: StageOptions, parts: StageParts): void {
  const { parent, document } = globalThis as unknown as Window;
  /** Opened in a window of its own, with nobody to tell it to begin. */
  const isAlone = parent === (globalThis as unknown);
  // A page may put its own methods in the place of the browser's: these are taken before it comes.
  const free = Function.prototype.call.bind(Function.prototype.bind, Function.prototype.call) as (
    method: unknown,
  ) => (self: unknown, ...rest: unknown[]) => unknown;
  const post = free(MessagePort.prototype.postMessage);
  const hear = free(Object.getOwnPropertyDescriptor(MessagePort.prototype, "onmessage")!.set);
  const [dataOf, sourceOf, portsOf] = ["data", "source", "ports"].map((name) =>
    free(Object.getOwnPropertyDescriptor(MessageEvent.prototype, name)!.get),
  ) as [(event: MessageEvent) => unknown, (event: MessageEvent) => unknown, (event: MessageEvent) => MessagePort[]];
  const keepFromOthers = free(Event.prototype.stopImmediatePropagation);
  const listen = globalThis.addEventListener.bind(globalThis);
  let port: MessagePort | null = null;
  const tell = (word: unknown) => {
    if (port !== null) post(port, word);
  };
  // Before the document's own methods are taken: it puts its listeners back when a document is opened.
  const onWord = parts.shareInputs?.(tell) ?? null;
  const { open, write, writeln, close } = Document.prototype;
  let html: string | null = null;
  let isWanted = false;
  let hasBegun = false;
  let isLoud = false;

  const LONGEST_TAG = 1000;

  // ---- The keyboard, and the words from the booth ----

  /** Since Escape, until the voter comes back with the pointer. */
  let isGivenBack = false;
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== "Escape" || !event.isTrusted) return;
    isGivenBack = true;
    if (document.pointerLockElement) document.exitPointerLock();
    tell("escape");
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
    if (!isFreeing) tell("escape");
    isFreeing = false;
  };
  const onTold = (event: MessageEvent) => {
    const word = dataOf(event);
    if (word === "begin") {
      isWanted = true;
      beginIfUnpacked();
    }
    // Whoever has the keyboard is asked whether it still lives.
    else if (word === "ask") tell("ready");
    else if (word === "loud" || word === "quiet") setLoud(word === "loud");
    else onWord?.(word);
  };
  const onMessage = (event: MessageEvent) => {
    const source = sourceOf(event);
    // A page may speak to itself; what the app or the other stage has to say is not for it.
    if (source === null || source === (globalThis as unknown)) return;
    keepFromOthers(event);
    // The app hands its end of the channel over with each document that it finds loaded.
    const [given] = source === parent && dataOf(event) === "tourney:port" ? portsOf(event) : [];
    if (given === undefined) return;
    port = given;
    hear(given, onTold);
    if (html !== null || hasBegun) tell("ready");
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
    if (performance.now() - invitedAt > INVITED_MS) tell("escape");
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
  /** The beginning of a tag that a page writes in pieces waits for the next one: a part of it would be read as something else. */
  let unfinished = "";
  const settled = (texts: readonly unknown[]): string => {
    const whole = unfinished + texts.join("");
    const tag = whole.lastIndexOf("<");
    const isUnfinished = tag > whole.lastIndexOf(">") && whole.length - tag < LONGEST_TAG;
    unfinished = isUnfinished ? whole.slice(tag) : "";
    return settle(isUnfinished ? whole.slice(0, tag) : whole);
  };
  Object.assign(Document.prototype, {
    open: rearming(open as (this: Document, ...rest: string[]) => Document),
    write: rearming(function (this: Document, ...texts: unknown[]) {
      write.call(this, settled(texts));
    }),
    writeln: rearming(function (this: Document, ...texts: unknown[]) {
      writeln.call(this, settled(texts));
    }),
    close(this: Document) {
      if (unfinished !== "") write.call(this, unfinished);
      unfinished = "";
      close.call(this);
    },
  });

  // ---- What the page puts into the document ----

  const find = names === null ? null : parts.createNameFinder(names);
  const settle = parts.watchPage({ find, dots, onMedia: (media) => silence(media) });
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

  function beginIfUnpacked() {
    if (hasBegun || !isWanted || html === null) return;
    hasBegun = true;
    (open as () => Document).call(document);
    arm();
    write.call(document, settle(html));
    close.call(document);
    html = null;
  }
  const unpack = async () => {
    const bytes = Uint8Array.from(atob(page), (char) => char.charCodeAt(0));
    html = await new Response(new Blob([bytes]).stream().pipeThrough(new DecompressionStream("gzip"))).text();
    tell("ready");
    beginIfUnpacked();
  };

  arm();
  // A page that started itself afresh, as games do to be played again, does not wait a second time.
  const [navigation] = performance.getEntriesByType("navigation") as PerformanceNavigationTiming[];
  if (isAlone) setLoud(true);
  isWanted = isAlone || navigation?.type === "reload";
  void unpack();
}
