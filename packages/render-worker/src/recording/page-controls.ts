import type { Viewport } from "@tourney/core/contract";
import * as z from "zod";
import { type Accessible, type Box, findBox, listAccessible } from "./accessible.js";
import type { OpenPage } from "./open-page.js";
import { quietly } from "./probes.js";

/** Roles of what a person would try on an application. */
const WORKABLE = new Set([
  "button",
  "checkbox",
  "switch",
  "radio",
  "tab",
  "menuitem",
  "menuitemcheckbox",
  "menuitemradio",
  "option",
  "link",
  "textbox",
  "searchbox",
  "spinbutton",
  "combobox",
  "slider",
]);
const PRESSES = ["click", "pointerdown", "mousedown", "touchstart"];
const GRABS = ["pointerdown", "mousedown", "touchstart", "dragstart"];
const MOVES = ["pointermove", "mousemove", "touchmove", "drag", "dragover"];
const FOLLOWS = ["pointermove", "mousemove"];
const KEYS = ["keydown", "keyup", "keypress"];
/** More than this are not looked at: what is tried of them is far less. */
const MOST_CONTROLS = 60;
const MOST_SURFACES = 6;
/** Of the window: what is larger is pressed last. */
const MOST_PRESSED_SHARE = 0.6;
/** Smaller things are no place to draw or steer on. */
const LEAST_SURFACE_PX = 24;

/** What a page offers to be worked by, as far as it can be told without working it. */
export interface PageControls {
  /** In document order; of several that are called the same the first. */
  named: (Accessible & { box: Box | null; leadsAway: boolean })[];
  /** Places that listen to a pointer by themselves. */
  surfaces: { box: Box; isPressed: boolean; isDragged: boolean; isFollowed: boolean }[];
  hasKeys: boolean;
}

const Listeners = z.object({ listeners: z.array(z.object({ type: z.string(), backendNodeId: z.int().optional() })) });

/** Reads what can be worked on a page: from what assistive technology is told, and from what its scripts listen to. */
export async function readControls(page: OpenPage, viewport: Viewport): Promise<PageControls> {
  const named: PageControls["named"] = [];
  const seen = new Set<string>();
  for (const control of await listAccessible(page)) {
    const key = `${control.role} ${control.name}`;
    if (!WORKABLE.has(control.role) || control.isDisabled || seen.has(key) || named.length >= MOST_CONTROLS) continue;
    seen.add(key);
    named.push({
      ...control,
      box: await findBox(page, control),
      leadsAway: control.address !== null && page.watch.leadsAway(control.address),
    });
  }
  const pages = await holdPagesOwn(page);
  const all =
    pages === null
      ? []
      : [...(await listListeners(page, pages.window, 1)), ...(await listListeners(page, pages.document, -1))];
  const own = withoutRecorders(all, await listRecorders(page));
  const types = new Set(own.filter(({ node }) => node === null).map(({ type }) => type));
  return {
    named,
    surfaces: await findSurfaces(page, own, {
      ofPage: types,
      named: new Set(named.map(({ nodeId }) => nodeId)),
      viewport,
    }),
    hasKeys: own.some(({ type }) => KEYS.includes(type)),
  };
}

interface Listener {
  type: string;
  /** The element that listens; null for the window and the document. */
  node: number | null;
}

const Described = z.object({ node: z.object({ backendNodeId: z.int() }) });
const Resolved = z.object({ object: z.object({ objectId: z.string() }) });
const Holder = z.object({ result: z.object({ objectId: z.string() }) });

/** The window and the document as the page's own scripts know them: only so are their listeners to be seen. */
async function holdPagesOwn(page: OpenPage): Promise<{ window: string; document: string } | null> {
  const held = Holder.safeParse(await quietly(page.hold("document")));
  if (!held.success) return null;
  const { node } = Described.parse(await page.send("DOM.describeNode", { objectId: held.data.result.objectId }));
  const document = Resolved.parse(await page.send("DOM.resolveNode", node)).object.objectId;
  const functionDeclaration = "function () { return this.defaultView; }";
  const window = Holder.safeParse(
    await page.send("Runtime.callFunctionOn", { objectId: document, functionDeclaration }),
  );
  return window.success ? { document, window: window.data.result.objectId } : null;
}

/** @param depth -1 for the listeners of everything in it as well. */
async function listListeners(page: OpenPage, objectId: string, depth: 1 | -1): Promise<Listener[]> {
  const answer = await quietly(page.send("DOMDebugger.getEventListeners", { objectId, depth }));
  const { listeners } = Listeners.catch({ listeners: [] }).parse(answer);
  return listeners.map(({ type, backendNodeId }) => ({ type, node: depth === -1 ? (backendNodeId ?? null) : null }));
}

/** What the recorder's own scripts listen to on the window of every document: that of the page around the entry has no others. */
async function listRecorders(page: OpenPage): Promise<Listener[]> {
  const around = Holder.safeParse(await page.send("Runtime.evaluate", { expression: "globalThis" }));
  return around.success ? listListeners(page, around.data.result.objectId, 1) : [];
}

function withoutRecorders(all: readonly Listener[], recorders: readonly Listener[]): Listener[] {
  const left = new Map<string, number>();
  for (const { type } of recorders) left.set(type, (left.get(type) ?? 0) + 1);
  return all.filter(({ type, node }) => {
    const count = left.get(type) ?? 0;
    if (node !== null || count === 0) return true;
    left.set(type, count - 1);
    return false;
  });
}

/** Elements that a pointer works and assistive technology does not know of; where only the page as a whole listens, its canvases, or else its middle. */
async function findSurfaces(
  page: OpenPage,
  own: readonly Listener[],
  { ofPage, named, viewport }: { ofPage: ReadonlySet<string>; named: ReadonlySet<number>; viewport: Viewport },
): Promise<PageControls["surfaces"]> {
  const byNode = new Map<number, Set<string>>();
  for (const { type, node } of own) if (node !== null) byNode.set(node, (byNode.get(node) ?? new Set()).add(type));
  const surfaces: PageControls["surfaces"] = [];
  const add = (box: Box | null, types: ReadonlySet<string>) => {
    const has = (names: readonly string[]) => names.some((name) => types.has(name));
    const isDragged = has(GRABS) && (has(MOVES) || MOVES.some((name) => ofPage.has(name)));
    const isPressed = has(PRESSES);
    const isFollowed = has(FOLLOWS) || FOLLOWS.some((name) => ofPage.has(name));
    if (box === null || !(isPressed || isDragged || isFollowed) || surfaces.length >= MOST_SURFACES) return;
    if (Math.min(box.right - box.left, box.bottom - box.top) < LEAST_SURFACE_PX) return;
    surfaces.push({ box, isPressed, isDragged, isFollowed });
  };
  const { width, height } = viewport;
  const large: [Box, ReadonlySet<string>][] = [];
  for (const [nodeId, types] of byNode) {
    if (named.has(nodeId) || ![...GRABS, ...FOLLOWS, "click"].some((type) => types.has(type))) continue;
    const box = await findBox(page, { nodeId });
    const isOnlyPressed = ![...GRABS, ...FOLLOWS].some((type) => types.has(type));
    const share = box === null ? 0 : ((box.right - box.left) * (box.bottom - box.top)) / (width * height);
    if (box !== null && isOnlyPressed && share > MOST_PRESSED_SHARE) large.push([box, types]);
    else add(box, types);
  }
  // What is as large as the window listens for what is in it as a rule; where nothing else is pressed, it is itself.
  if (!surfaces.some(({ isPressed }) => isPressed)) for (const [box, types] of large) add(box, types);
  if (surfaces.length === 0) {
    const canvases = (await quietly(page.probe(Boxes, CANVASES))) ?? [];
    const types = new Set([...ofPage, ...[...byNode.values()].flatMap((set) => [...set])]);
    // A canvas has no controls that assistive technology knows of: what listens at all may be for what is drawn on it.
    for (const box of canvases) add(box, types);
    if (canvases.length === 0) add((await quietly(page.probe(Boxes, WINDOW)))?.[0] ?? null, ofPage);
  }
  return surfaces;
}

const Boxes = z.array(z.object({ left: z.number(), top: z.number(), right: z.number(), bottom: z.number() }));
const CANVASES = `[...document.querySelectorAll("canvas")].map((canvas) => {
  const { left, top, right, bottom } = canvas.getBoundingClientRect();
  return { left, top, right, bottom };
}).filter(({ left, right, top, bottom }) => right - left > 50 && bottom - top > 50).slice(0, 3)`;
const WINDOW = `[{ left: 0, top: 0, right: innerWidth, bottom: innerHeight }]`;
