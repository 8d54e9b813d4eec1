import type { createNameFinder, FindNames, HiddenNames } from "@tourney/core/blinding";
import type { Dots } from "./watch-page.js";

/**
 * Hides names in what is drawn on canvases and logged, here and in the workers that are started from here: in front of each one's own script
 * stands this function, as text. It may use nothing from outside itself.
 *
 * @param createFinder as text, too
 */
export function hideInDrawings(
  { names, dots }: { names: HiddenNames; dots: Dots },
  createFinder: typeof createNameFinder,
): void {
  const find: FindNames = createFinder(names);
  const dot = (value: unknown): string => {
    const text = String(value);
    let [shown, at] = ["", 0];
    for (const [start, end] of find(text)) {
      shown += text.slice(at, start) + dots.shown;
      at = end;
    }
    return (shown + text.slice(at)).replace(new RegExp(`${dots.letter}+`, "g"), dots.shown);
  };
  for (const context of [globalThis.CanvasRenderingContext2D, globalThis.OffscreenCanvasRenderingContext2D]) {
    if (context === undefined) continue;
    const { fillText, strokeText } = context.prototype;
    context.prototype.fillText = function (this: CanvasRenderingContext2D, text: string, ...rest: [number, number]) {
      fillText.call(this, dot(text), ...rest);
    };
    context.prototype.strokeText = function (this: CanvasRenderingContext2D, text: string, ...rest: [number, number]) {
      strokeText.call(this, dot(text), ...rest);
    };
  }
  for (const level of ["log", "info", "warn", "error", "debug"] as const) {
    const own = console[level].bind(console);
    console[level] = (...values: unknown[]) =>
      own(...values.map((value) => (typeof value === "string" ? dot(value) : value)));
  }
  const blobs = new Map<string, Blob>();
  const { createObjectURL, revokeObjectURL } = URL;
  URL.createObjectURL = (object: Blob) => {
    const address = createObjectURL.call(URL, object);
    if (object instanceof Blob) blobs.set(address, object);
    return address;
  };
  URL.revokeObjectURL = (address: string) => {
    blobs.delete(address);
    revokeObjectURL.call(URL, address);
  };
  const scriptOf = (address: string): BlobPart | null => {
    const [, head = "", data = ""] = /^data:([^,]*),(.*)$/s.exec(address) ?? [];
    if (!address.startsWith("data:")) return blobs.get(address) ?? null;
    const text = decodeURIComponent(data);
    return /;\s*base64\s*$/i.test(head) ? Uint8Array.from(atob(text), (char) => char.charCodeAt(0)) : text;
  };
  const before = `{const __name=(f)=>f;(${hideInDrawings.toString()})(${JSON.stringify({ names, dots })},${createFinder.toString()})};`;
  globalThis.Worker = new Proxy(globalThis.Worker, {
    construct: (target, [address, ...rest]: [string | URL, unknown?], newTarget) => {
      const script = scriptOf(String(address));
      const whole = script === null ? address : createObjectURL.call(URL, new Blob([before, script]));
      return Reflect.construct(target, [whole, ...rest], newTarget) as Worker;
    },
  });
}
