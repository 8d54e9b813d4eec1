import { type BrowserSource, ONE_EACH } from "./browser-pool.js";
import type { Browser, BrowserChoice } from "./launch.js";

/**
 * The browsers of one entry: its clips are made one after the other, each in a context of its own, and in the same browser as long as
 * nothing went wrong in it. From then on the entry gets none that another one has had.
 */
export class EntryBrowsers {
  private waiting: Browser | null = null;

  /** @param source of the first browser, and where the last is left. */
  constructor(
    private readonly choice: BrowserChoice,
    private readonly errors: (line: string) => void,
    private source: BrowserSource,
  ) {}

  take(): Browser {
    const browser = this.waiting ?? this.source.take(this.choice, this.errors);
    this.waiting = null;
    return browser;
  }

  /** @param isSound whether a further clip can be made in it. */
  async giveBack(browser: Browser, isSound: boolean): Promise<void> {
    if (isSound && this.waiting === null) {
      this.waiting = browser;
      return;
    }
    if (!isSound) this.source = ONE_EACH;
    await browser.end();
  }

  async end(): Promise<void> {
    const { waiting } = this;
    this.waiting = null;
    if (waiting !== null) await this.source.giveBack(waiting, this.choice);
  }
}
