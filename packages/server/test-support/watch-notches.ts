import { setTimeout } from "node:timers/promises";
import type { Page } from "@playwright/test";

/** Chooses notches by key and mouse, and knows how long a voter waited for each. */
export interface Notches {
  /** Milliseconds until each was chosen: three by key, three by mouse. */
  chooseAll: () => Promise<number[]>;
  press: (key: string) => Promise<void>;
}

/** A notch that is not chosen by then is given up. */
const PATIENCE_MS = 8000;
const BETWEEN_MS = 300;

/**
 * Watches the notches of a booth in its own page, and sends the inputs without waiting for an answer: what a driver asks of a page that is flooded with messages waits
 * behind them, and a voter's keys do not. Both clocks are this machine's.
 */
export async function watchNotches(page: Page): Promise<Notches> {
  const client = await page.context().newCDPSession(page);
  const seen: { place: number; at: number }[] = [];
  page.on("request", (request) => {
    const [, place, at] = /\/api\/health\?notch=(\d)&at=(\d+)$/.exec(request.url()) ?? [];
    if (place !== undefined) seen.push({ place: Number(place), at: Number(at) });
  });
  // Told by an address, which leaves a page that answers nobody else.
  await page.evaluate(() => {
    const isChosen = new WeakMap<HTMLInputElement, boolean>();
    const look = () => {
      const all = [...document.querySelectorAll<HTMLInputElement>("main:not([inert]) input[type=radio]")];
      for (const [place, input] of all.entries()) {
        if (input.checked && isChosen.get(input) !== true)
          new Image().src = `/api/health?notch=${place}&at=${Date.now()}`;
        isChosen.set(input, input.checked);
      }
    };
    // After the booth's own listeners, and what they changed is there; or at the latest in the next picture.
    for (const type of ["keydown", "change", "click"])
      addEventListener(type, () => {
        queueMicrotask(() => queueMicrotask(look));
        requestAnimationFrame(look);
      });
  });
  const send = (method: "Input.dispatchKeyEvent" | "Input.dispatchMouseEvent", params: object) => {
    void client.send(method, params as never).catch(() => undefined);
  };
  const press = (key: string) => {
    const code = key === "Enter" ? 13 : key.charCodeAt(0);
    const text = key === "Enter" ? "\r" : key;
    send("Input.dispatchKeyEvent", { type: "keyDown", key, text, windowsVirtualKeyCode: code });
    send("Input.dispatchKeyEvent", { type: "keyUp", key, windowsVirtualKeyCode: code });
  };
  const untilChosen = async (place: number, sentAt: number): Promise<number> => {
    for (;;) {
      const found = seen.find((one) => one.place === place && one.at >= sentAt - 1);
      if (found) return Math.max(0, found.at - sentAt);
      if (Date.now() - sentAt > PATIENCE_MS) return Infinity;
      await setTimeout(10);
    }
  };
  const places = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLInputElement>("main:not([inert]) input[type=radio]")].map((input) => {
      const { x, y, width, height } = (input.labels?.[0] ?? input).getBoundingClientRect();
      return [x + width / 2, y + height / 2] as const;
    }),
  );
  return {
    async chooseAll() {
      const waits: number[] = [];
      for (const place of [0, 3, 1]) {
        const sentAt = Date.now();
        press(String(place + 1));
        waits.push(await untilChosen(place, sentAt));
        await setTimeout(BETWEEN_MS);
      }
      for (const place of [4, 2, 0]) {
        // Into one of the pages first: one that holds on to the mouse would keep it.
        for (const type of ["mouseMoved", "mousePressed", "mouseReleased"])
          send("Input.dispatchMouseEvent", { type, x: 300, y: 300, button: "left", clickCount: 1 });
        await setTimeout(BETWEEN_MS);
        const [x, y] = places[place]!;
        const sentAt = Date.now();
        for (const type of ["mouseMoved", "mousePressed", "mouseReleased"])
          send("Input.dispatchMouseEvent", { type, x, y, button: "left", clickCount: 1 });
        waits.push(await untilChosen(place, sentAt));
        await setTimeout(BETWEEN_MS);
      }
      return waits;
    },
    press: (key) => {
      press(key);
      return setTimeout(BETWEEN_MS);
    },
  };
}
