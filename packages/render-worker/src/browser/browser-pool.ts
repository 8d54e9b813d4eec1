import { setTimeout as sleep } from "node:timers/promises";
import * as z from "zod";
import { type Browser, type BrowserChoice, launchBrowser } from "./launch.js";

/** A browser is ended after so many entries, whatever it has gathered in itself by then. */
const MOST_ENTRIES = 25;
/** One that no entry wanted for so long is ended: it holds some 60 MB. */
const IDLE_MS = 20_000;

/** What may be left in a browser between two entries: no context, no target, no process that draws pages. */
const LeftOver = {
  contexts: z.object({ browserContextIds: z.array(z.string()) }),
  targets: z.object({ targetInfos: z.array(z.object({ type: z.string() })) }),
  processes: z.object({ processInfo: z.array(z.object({ type: z.string() })) }),
};

interface Idle {
  browser: Browser;
  key: string;
  timer: NodeJS.Timeout;
}

/** Where an entry gets its browsers from, and where it leaves them. */
export interface BrowserSource {
  take: (choice: BrowserChoice, errors: (line: string) => void) => Browser;
  /** A browser in which nothing went wrong and every context was ended. */
  giveBack: (browser: Browser, choice: BrowserChoice) => Promise<void>;
}

/** A browser for each entry, ended after it. */
export const ONE_EACH: BrowserSource = {
  take: (choice, errors) => launchBrowser({ browser: choice, errors }),
  giveBack: (browser) => browser.end(),
};

/**
 * Keeps browsers from one entry to the next, which saves starting one: a seventh of what a clip costs. An entry gets contexts of its own and
 * the browser only while nothing went wrong in it; before another entry gets it, nothing of the one before may be left, not even a process.
 */
export class BrowserPool implements BrowserSource {
  private idle: Idle[] = [];
  private readonly entries = new WeakMap<Browser, number>();
  private isEnded = false;

  take(choice: BrowserChoice, errors: (line: string) => void): Browser {
    const kept = this.idle.find(({ key }) => key === keyOf(choice));
    const browser = kept?.browser ?? launchBrowser({ browser: choice, errors });
    if (kept) this.remove(kept);
    browser.tellErrorsTo(errors);
    this.entries.set(browser, (this.entries.get(browser) ?? 0) + 1);
    return browser;
  }

  async giveBack(browser: Browser, choice: BrowserChoice): Promise<void> {
    browser.tellErrorsTo(() => undefined);
    const isOld = (this.entries.get(browser) ?? 0) >= MOST_ENTRIES;
    if (isOld || !(await isEmpty(browser)) || this.isEnded) {
      await browser.end();
      return;
    }
    const kept: Idle = { browser, key: keyOf(choice), timer: setTimeout(() => void this.drop(kept), IDLE_MS) };
    kept.timer.unref();
    this.idle.push(kept);
  }

  /** Ends the browsers that wait, and those that are still given back. */
  async end(): Promise<void> {
    this.isEnded = true;
    await Promise.all([...this.idle].map((kept) => this.drop(kept)));
  }

  private remove(kept: Idle): void {
    clearTimeout(kept.timer);
    this.idle = this.idle.filter((other) => other !== kept);
  }

  private async drop(kept: Idle): Promise<void> {
    this.remove(kept);
    await kept.browser.end();
  }
}

const keyOf = ({ path, clock, isRealTime = false }: BrowserChoice): string => JSON.stringify([path, clock, isRealTime]);

/** What a page leaves behind may take its time to go where all processors are busy. */
const LEAVING_MS = 3000;
const LOOK_AGAIN_MS = 100;

/** Whether nothing of an entry is left in a browser, or will be within a moment. */
async function isEmpty(browser: Browser): Promise<boolean> {
  if (browser.wasOverMemory() || browser.saidOutOfMemory()) return false;
  const until = performance.now() + LEAVING_MS;
  try {
    while (!(await holdsNothing(browser))) {
      if (performance.now() > until) return false;
      await sleep(LOOK_AGAIN_MS);
    }
    return true;
  } catch {
    // It ended meanwhile, or does not answer: either way no other entry gets it.
    return false;
  }
}

async function holdsNothing({ pipe }: Browser): Promise<boolean> {
  const [contexts, targets, processes] = await Promise.all([
    pipe.send("Target.getBrowserContexts").then((answer) => LeftOver.contexts.parse(answer)),
    pipe.send("Target.getTargets").then((answer) => LeftOver.targets.parse(answer)),
    pipe.send("SystemInfo.getProcessInfo").then((answer) => LeftOver.processes.parse(answer)),
  ]);
  return (
    contexts.browserContextIds.length === 0 &&
    targets.targetInfos.length === 0 &&
    processes.processInfo.every(({ type }) => type !== "renderer")
  );
}
