import { afterAll, describe, expect, it } from "vitest";
import { recordForTest } from "../../test-support/record-for-test.js";
import { BrowserPool } from "./browser-pool.js";
import type { Browser, BrowserChoice } from "./launch.js";

/** A pool that notes which browser each entry gets. */
class WatchedPool extends BrowserPool {
  readonly taken: Browser[] = [];

  override take(choice: BrowserChoice, errors: (line: string) => void): Browser {
    const browser = super.take(choice, errors);
    this.taken.push(browser);
    return browser;
  }
}

const pools: WatchedPool[] = [];
function openPool(): WatchedPool {
  const pool = new WatchedPool();
  pools.push(pool);
  return pool;
}
afterAll(() => Promise.all(pools.map((pool) => pool.end())));

const textOf = async (page: string, pool: BrowserPool) => (await recordForTest(page, {}, { pool })).shownText;
const HELLO = "<!doctype html><title>Hello</title><h1>Hello</h1>";

/** Says what it finds, and leaves all that a page can leave behind. */
const LEAVES = `<!doctype html><title>Leaves</title><p id="out">…</p><script>
  const found = [];
  const look = (name, is) => { if (is) found.push(name); };
  look("storage", localStorage.length > 0);
  look("session", sessionStorage.length > 0);
  look("name", window.name !== "");
  look("cookie", document.cookie !== "");
  localStorage.setItem("a", "1"); sessionStorage.setItem("a", "1"); window.name = "a"; document.cookie = "a=1";
  new BroadcastChannel("a").onmessage = () => { found.push("neighbour"); };
  setInterval(() => new BroadcastChannel("a").postMessage(1), 100);
  try { new SharedWorker(URL.createObjectURL(new Blob(["onconnect = () => { setInterval(() => {}, 50); }"]))); } catch {}
  history.pushState(1, "", "#a");
  setTimeout(() => { out.textContent = "found: " + [...new Set(found)].filter((name) => name !== "neighbour").join(); }, 500);
</script>`;

describe("a browser that is kept for the next entry", () => {
  it("is the same one, and shows the page as a new one does", async () => {
    const alone = await recordForTest(HELLO);
    // A busy machine may make an entry be recorded in another way, and its browser is then ended: that is no fault of the pool.
    const came: string[] = [];
    let after = alone;
    for (let isSame = false; !isSame && came.length < 3;) {
      const pool = openPool();
      const { outcome, clock } = await recordForTest(LEAVES, {}, { pool });
      after = await recordForTest(HELLO, {}, { pool });
      isSame = pool.taken[1] === pool.taken[0];
      came.push(`${outcome} by ${clock}, ${isSame ? "the same" : "another"}`);
    }
    expect(came.at(-1), came.join("; ")).toContain("the same");
    expect(after.frames.map(({ sha256 }) => sha256)).toEqual(alone.frames.map(({ sha256 }) => sha256));
  });

  it("holds nothing of the entry before", async () => {
    const pool = openPool();
    expect([await textOf(LEAVES, pool), await textOf(LEAVES, pool)]).toEqual(["found:", "found:"]);
    expect(new Set(pool.taken).size).toBe(1);
  });

  it("is none in which a page came to no good end", async () => {
    const pool = openPool();
    const { outcome } = await recordForTest("<script>for (;;);</script>", {}, { pool, frameLimitMs: 1500 });
    expect(outcome).toBe("hung");
    await textOf(HELLO, pool);
    expect(pool.taken[1]).not.toBe(pool.taken[0]);
  });

  it("is ended when something is left in it that will not go", async () => {
    const pool = openPool();
    const choice: BrowserChoice = { path: "/usr/lib/chromium/chromium-headless-shell", clock: "begin-frame" };
    const browser = pool.take(choice, () => undefined);
    await browser.pipe.send("Target.createBrowserContext");
    await pool.giveBack(browser, choice);
    await expect(browser.pipe.send("Browser.getVersion")).rejects.toThrow("gone");
    expect(pool.take(choice, () => undefined)).not.toBe(browser);
    await pool.taken.at(-1)!.end();
  });

  it("ends with the pool", async () => {
    const pool = openPool();
    await textOf(HELLO, pool);
    await pool.end();
    await expect(pool.taken[0]!.pipe.send("Browser.getVersion")).rejects.toThrow("gone");
  });
});
