import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// A screen takes more than the default second to show what it was sent when other work has the cores. A test that waits
// in vain fails by this before its own limit does, and so says what it waited for.
configure({ asyncUtilTimeout: 15_000 });

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
