import { cleanup } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// What jsdom has not and the interface measures itself by.
class NoResizeObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
vi.stubGlobal("ResizeObserver", NoResizeObserver);

// Nothing is known of the screen or of what points.
vi.stubGlobal("matchMedia", (media: string) => ({ media, matches: false, addEventListener: () => undefined }));

// jsdom lays nothing out; lists that draw only what is in sight need a window to draw for.
for (const [name, px] of [
  ["clientWidth", 1280],
  ["clientHeight", 800],
] as const)
  Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => px });

// Node's Request takes no relative address and no signal of jsdom's; the browser's takes both.
const NodeRequest = globalThis.Request;
class PageRequest extends NodeRequest {
  constructor(input: string, { signal: _signal, ...init }: RequestInit = {}) {
    super(new URL(input, window.location.href), init);
  }
}
vi.stubGlobal("Request", PageRequest);

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});
