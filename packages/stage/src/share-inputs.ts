import type { SharedInput } from "@tourney/core/stage";

/** As it is given to a stage. */
export type ShareInputs = typeof shareInputs;

type Target = NonNullable<Extract<SharedInput, { kind: "pointer" }>["target"]>;

/**
 * Runs in the stages of a comparison before anything of the output does. What a person does in one stage is told to the app, and what the app
 * says that they did in another is acted out here: on the element of the same role and name where there was one, otherwise at the same
 * place of the viewport.
 *
 * Acted-out events are not trusted by the browser, so they open nothing and write no text by themselves: values of fields are told as values.
 * @param tell says something to the app
 * @returns takes what the app says
 *
 * Its source is put into the page as text: it may use nothing from outside itself.
 */
export function shareInputs(tell: (word: unknown) => void): (word: unknown) => void {
  const { document } = globalThis as unknown as Window;
  const listen = globalThis.addEventListener.bind(globalThis);
  const INTERACTIVE =
    'a[href], button, input, select, textarea, summary, label, option, [role], [tabindex], [contenteditable=""], [contenteditable=true]';
  const ROLES: Record<string, string> = {
    a: "link",
    button: "button",
    select: "combobox",
    textarea: "textbox",
    summary: "button",
  };

  const roleOf = (element: Element): string => {
    const tag = element.nodeName.toLowerCase();
    if (tag === "input") return (element as HTMLInputElement).type;
    return element.getAttribute("role") ?? ROLES[tag] ?? tag;
  };
  /** The name that a person would use: near enough to the accessible name to find the same thing on another page. */
  const nameOf = (element: Element): string => {
    const labelled = (element.getAttribute("aria-labelledby") ?? "")
      .split(/\s+/)
      .map((id) => (id === "" ? "" : (document.getElementById(id)?.textContent ?? "")))
      .join(" ");
    const label = "labels" in element ? ((element as HTMLInputElement).labels?.[0]?.textContent ?? "") : "";
    const found = [
      element.getAttribute("aria-label"),
      labelled,
      label,
      /^(?:select|textarea)$/i.test(element.nodeName) ? "" : element.textContent,
      element.getAttribute("alt"),
      element.getAttribute("title"),
      element.getAttribute("placeholder"),
    ].find((text) => (text ?? "").trim() !== "");
    return (found ?? "").replace(/\s+/g, " ").trim().slice(0, 200);
  };
  const describe = (target: EventTarget | null): Target | null => {
    const element = target instanceof Element ? target.closest(INTERACTIVE) : null;
    const name = element === null ? "" : nameOf(element);
    return element === null || name === "" ? null : { role: roleOf(element).slice(0, 40), name };
  };
  const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();

  // ---- What is done here ----

  const placeOf = ({ clientX, clientY, target }: MouseEvent) => ({
    x: clientX / innerWidth,
    y: clientY / innerHeight,
    target: describe(target),
  });
  const share = (input: SharedInput) => tell({ tourney: "input", input });
  const onKey = (event: KeyboardEvent) => {
    if (!event.isTrusted || event.key === "Escape") return;
    const { type, key, code, keyCode, repeat, shiftKey, ctrlKey, altKey, metaKey } = event;
    const modifiers = { shiftKey, ctrlKey, altKey, metaKey };
    share({ kind: "key", type: type as "keydown", key, code, keyCode, repeat, modifiers });
  };
  let movedAt = 0;
  const MOVES_EVERY_MS = 16;
  const onPointer = (event: MouseEvent) => {
    if (!event.isTrusted) return;
    if (event.type === "pointermove") {
      if (event.timeStamp - movedAt < MOVES_EVERY_MS) return;
      movedAt = event.timeStamp;
    }
    const { type, button, buttons } = event;
    share({ kind: "pointer", type: type as "click", button, buttons, ...placeOf(event) });
  };
  const onWheel = (event: WheelEvent) => {
    if (event.isTrusted) share({ kind: "wheel", deltaX: event.deltaX, deltaY: event.deltaY, ...placeOf(event) });
  };
  const onInput = (event: Event) => {
    const field = event.target;
    if (!event.isTrusted || !(field instanceof Element) || !("value" in field)) return;
    const { left, top, width, height } = field.getBoundingClientRect();
    share({
      kind: "value",
      value: String(field.value).slice(0, 10_000),
      checked: "checked" in field ? Boolean(field.checked) : null,
      x: (left + width / 2) / innerWidth,
      y: (top + height / 2) / innerHeight,
      target: describe(field),
    });
  };

  // ---- What is acted out here ----

  const findNamed = ({ role, name }: Target): Element | null => {
    const all = [...document.querySelectorAll(INTERACTIVE)];
    const named = all.filter((element) => same(nameOf(element), name));
    return named.find((element) => same(roleOf(element), role)) ?? named[0] ?? null;
  };
  const findTarget = (x: number, y: number, target: Target | null): { element: Element | null; isNamed: boolean } => {
    const named = target === null ? null : findNamed(target);
    return named === null
      ? { element: document.elementFromPoint(x * innerWidth, y * innerHeight), isNamed: false }
      : { element: named, isNamed: true };
  };
  const actKey = (input: Extract<SharedInput, { kind: "key" }>) => {
    const { type, key, code, keyCode, repeat, modifiers } = input;
    const event = new KeyboardEvent(type, { key, code, repeat, bubbles: true, cancelable: true, ...modifiers });
    // Older games read the number of the key, which no constructor sets.
    for (const name of ["keyCode", "which"]) Object.defineProperty(event, name, { get: () => keyCode });
    (document.activeElement ?? document.body ?? document.documentElement).dispatchEvent(event);
    return true;
  };
  const actPointer = (input: Extract<SharedInput, { kind: "pointer" }>) => {
    const { type, button, buttons, x, y, target } = input;
    const { element, isNamed } = findTarget(x, y, target);
    if (element === null) return false;
    const box = element.getBoundingClientRect();
    const [clientX, clientY] = isNamed
      ? [box.left + box.width / 2, box.top + box.height / 2]
      : [x * innerWidth, y * innerHeight];
    const init = {
      bubbles: true,
      cancelable: true,
      composed: true,
      clientX,
      clientY,
      button: Math.max(0, button),
      buttons,
    };
    if (!type.startsWith("pointer")) element.dispatchEvent(new MouseEvent(type, init));
    else {
      element.dispatchEvent(new PointerEvent(type, { ...init, pointerId: 1, pointerType: "mouse", isPrimary: true }));
      element.dispatchEvent(new MouseEvent(type.replace("pointer", "mouse"), init));
      if (type === "pointerdown" && element instanceof HTMLElement)
        (element.closest<HTMLElement>(INTERACTIVE) ?? element).focus();
    }
    return target === null || isNamed || element.closest(INTERACTIVE) !== null;
  };
  const actWheel = ({ x, y, target, deltaX, deltaY }: Extract<SharedInput, { kind: "wheel" }>) => {
    const { element } = findTarget(x, y, target);
    if (element === null) return false;
    const event = new WheelEvent("wheel", { bubbles: true, cancelable: true, deltaX, deltaY });
    if (element.dispatchEvent(event)) globalThis.scrollBy(deltaX, deltaY);
    return true;
  };
  const actValue = ({ x, y, target, value, checked }: Extract<SharedInput, { kind: "value" }>) => {
    const { element } = findTarget(x, y, target);
    if (element === null || !("value" in element)) return false;
    if (checked !== null && "checked" in element) element.checked = checked;
    // The setter of the browser, not of a framework that would take the change for its own.
    const setter = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(element) as object, "value")?.set;
    if (setter === undefined) element.value = value;
    else setter.call(element, value);
    for (const type of ["input", "change"]) element.dispatchEvent(new Event(type, { bubbles: true }));
    return true;
  };
  const act = (input: SharedInput): boolean => {
    if (input.kind === "key") return actKey(input);
    if (input.kind === "pointer") return actPointer(input);
    return input.kind === "wheel" ? actWheel(input) : actValue(input);
  };
  const onWord = (word: unknown) => {
    const { tourney, input } = (typeof word === "object" ? (word ?? {}) : {}) as {
      tourney?: unknown;
      input?: SharedInput;
    };
    if (tourney !== "act" || input === undefined) return;
    const found = act(input);
    const what = "target" in input && input.target !== null ? input.target.name : input.kind;
    tell({ tourney: "acted", found, what });
  };

  // Opening a document takes all listeners away from it: these are put back each time.
  const arm = () => {
    for (const type of ["keydown", "keyup"] as const) listen(type, onKey, { capture: true });
    for (const type of ["pointerdown", "pointermove", "pointerup", "click", "dblclick", "contextmenu"] as const)
      listen(type, onPointer, { capture: true });
    listen("wheel", onWheel, { capture: true, passive: true });
    for (const type of ["input", "change"]) listen(type, onInput, { capture: true });
  };
  for (const name of ["open", "write", "writeln"] as const) {
    const method = Document.prototype[name] as (this: Document, ...rest: unknown[]) => unknown;
    Object.assign(Document.prototype, {
      [name](this: Document, ...rest: unknown[]) {
        const result = method.apply(this, rest);
        arm();
        return result;
      },
    });
  }
  arm();
  return onWord;
}
