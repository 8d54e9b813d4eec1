import { type Browser, type BrowserChoice, launchBrowser } from "./launch.js";

/**
 * The browsers of one entry: its clips are made one after the other, each in a context of its own, and in the same browser as long as
 * nothing went wrong in it. No other entry ever gets one of them.
 */
export class EntryBrowsers {
  private waiting: Browser | null = null;

  constructor(
    private readonly choice: BrowserChoice,
    private readonly errors: (line: string) => void,
  ) {}

  take(): Browser {
    const browser = this.waiting ?? launchBrowser({ browser: this.choice, errors: this.errors });
    this.waiting = null;
    return browser;
  }

  /** @param isSound whether a further clip can be made in it. */
  async giveBack(browser: Browser, isSound: boolean): Promise<void> {
    if (isSound && this.waiting === null) this.waiting = browser;
    else await browser.end();
  }

  async end(): Promise<void> {
    await this.waiting?.end();
    this.waiting = null;
  }
}
