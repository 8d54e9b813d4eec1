import { createSocket } from "node:dgram";
import { createServer, get, type IncomingHttpHeaders } from "node:http";
import type { AddressInfo } from "node:net";
import { text } from "node:stream/consumers";
import { type Browser, chromium, type FrameLocator, type Page } from "@playwright/test";
import { pageInStage } from "@tourney/stage";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { answerWith, byHand, markRecorded, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";
import {
  attacks,
  DRAWS_WITHOUT_END,
  FLOODS,
  goesToItsDrawing,
  GRABS_KEYS,
  HANGS,
  HANGS_ON_CLICK,
  HONEST,
  NAMES_ITSELF,
  writesItselfAnew,
} from "../../test-support/stage-pages.js";
import { watchNotches } from "../../test-support/watch-notches.js";

let server: TestServer;
let browser: Browser;
/** What reached a host that no stage may reach. */
const reached: string[] = [];
const outside = createServer((request, response) => {
  reached.push(request.url ?? "");
  response.end();
});
/** WebRTC speaks by UDP. */
const packets = createSocket("udp4").on("message", () => reached.push("a packet"));

beforeAll(async () => {
  server = await startTestServer({ withInterface: true });
  await server.services.entrants.add({ ...byHand("sea-kale"), name: "Sea Kale 9", maker: "Shingle Bank" });
  await new Promise<void>((resolve) => outside.listen(0, "127.0.0.1", resolve));
  await new Promise<void>((resolve) => packets.bind((outside.address() as AddressInfo).port, "127.0.0.1", resolve));
  browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", "--disable-background-networking", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
}, 60_000);
afterAll(async () => {
  await browser.close();
  outside.close();
  packets.close();
  await server.close();
});

/** A voter's page at the first bout, between the two outputs in either order. */
async function openBout(name: string, pages: { gorse: string; heath: string }): Promise<Page> {
  const { edition } = await server.services.suites.importSuite(suiteYaml("locks").replace("a-suite", name));
  for (const [key, page] of Object.entries(pages)) {
    const entrantKey = `${name}-${key}`;
    await server.services.entrants.add(byHand(entrantKey));
    await server.services.entries.addHandAnswer(edition.id, {
      promptKey: "locks",
      entrantKey,
      take: 1,
      text: page.startsWith("Two files.") ? page : answerWith(page),
    });
  }
  await markRecorded(server);
  const panel = await server.services.panels.add({ editionId: edition.id, title: name, quota: 1, message: "" });
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(panel.url);
  await page.getByRole("button", { name: "Begin" }).click();
  await page.getByRole("button", { name: "Start voting" }).click();
  return page;
}

async function begun(page: Page): Promise<void> {
  await page.locator("iframe").nth(1).waitFor();
  await expect.poll(() => page.getByText("Getting both ready …").count(), { timeout: 20_000 }).toBe(0);
}

/** The stage in which a text shows; the other one may hang and answer nothing. */
async function stageWith(page: Page, text: string): Promise<FrameLocator> {
  const frames = ["Left", "Right"].map((side) => page.frameLocator(`iframe[title="${side} page"]`));
  return Promise.any(
    frames.map(async (frame) => {
      await frame.getByText(text).first().waitFor({ timeout: 10_000 });
      return frame;
    }),
  );
}

/** How long it takes until a key has chosen its notch. */
async function timeNotch(page: Page, key: string, name: string): Promise<number> {
  const startedAt = performance.now();
  await page.keyboard.press(key);
  await expect.poll(() => page.getByRole("radio", { name, exact: true }).isChecked()).toBe(true);
  return performance.now() - startedAt;
}

/** Names below localhost are not known to Node everywhere. */
function readAnswer(address: string): Promise<{ status: number; headers: IncomingHttpHeaders; text: string }> {
  const { host, port, pathname } = new URL(address);
  return new Promise((resolve, reject) => {
    get({ host: "127.0.0.1", port, path: pathname, headers: { host } }, (response) => {
      text(response).then(
        (body) => resolve({ status: response.statusCode ?? 0, headers: response.headers, text: body }),
        reject,
      );
    }).on("error", reject);
  });
}

/** Of an answer, without what is new each time. */
async function readHeaders(address: string): Promise<Record<string, unknown>> {
  const { status, headers } = await readAnswer(address);
  const fixed = Object.entries(headers).filter(([name]) => name !== "date" && name !== "x-request-id");
  return { status, ...Object.fromEntries(fixed) };
}

/** A page that nothing keeps in: what it sends is seen to arrive, so that none of a stage's would be missed. */
async function callFromOutside(at: string): Promise<void> {
  const before = reached.length;
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto("data:text/html,<p>Outside</p>");
  await page.evaluate(async (host) => {
    const peer = new RTCPeerConnection({ iceServers: [{ urls: `stun:${host}` }] });
    peer.createDataChannel("x");
    await peer.setLocalDescription(await peer.createOffer());
  }, at);
  await expect.poll(() => reached.length, { timeout: 10_000 }).toBeGreaterThan(before);
  await context.close();
  await new Promise((resolve) => setTimeout(resolve, 500));
}

async function finish(page: Page): Promise<void> {
  await page.keyboard.press("Enter");
  await expect.poll(() => page.getByText("All 1 are done.").count(), { timeout: 10_000 }).toBe(1);
}

describe("a stage of the booth", () => {
  it("lets a page out nowhere: no window, dialog, download, request, ballot or word but its own", async () => {
    const { port } = outside.address() as AddressInfo;
    const page = await openBout("attacks", {
      gorse: attacks(`http://127.0.0.1:${port}`),
      heath: attacks(`http://127.0.0.1:${port}`).replace("hostile", "hostile too"),
    });
    const seen: string[] = [];
    page.context().on("page", (other) => seen.push(`a window: ${other.url()}`));
    page.on("dialog", (dialog) => {
      seen.push(`a dialog: ${dialog.message()}`);
      void dialog.dismiss();
    });
    page.on("download", (download) => seen.push(`a download: ${download.url()}`));
    page.on("framenavigated", (frame) => {
      if (frame === page.mainFrame()) seen.push(`the window went to ${frame.url()}`);
    });
    await begun(page);
    await page.waitForTimeout(1800);
    const got = ["Left", "Right"].map((side) => page.frameLocator(`iframe[title="${side} page"]`).locator("#got"));
    // Nothing that one of them kept or said came to the other, or was there from before.
    expect(await Promise.all(got.map((notes) => notes.innerText()))).toEqual(["", ""]);
    await Promise.all(got.map((notes) => notes.evaluate(() => (globalThis as unknown as { leave(): void }).leave())));
    await expect.poll(() => page.getByText("The page went away from here.").count(), { timeout: 8000 }).toBe(2);
    expect(seen).toEqual([]);
    expect(reached).toEqual([]);
    expect(await page.getByText("0 of 1").count()).toBe(1);
    expect(await timeNotch(page, "2", "left")).toBeLessThan(1000);
    await finish(page);
    expect(reached).toEqual([]);
  }, 60_000);

  it("gets no packet out by a file of its own, or by a page that it writes in its own place", async () => {
    const at = `127.0.0.1:${(outside.address() as AddressInfo).port}`;
    await callFromOutside(at);
    const before = reached.length;
    const page = await openBout("drawings", { gorse: goesToItsDrawing(at), heath: writesItselfAnew(at) });
    await begun(page);
    await page.waitForTimeout(4000);
    expect(reached.slice(before)).toEqual([]);
    expect(page.frames().map((frame) => frame.url())).not.toContainEqual(expect.stringContaining(".svg#"));
    expect(await timeNotch(page, "2", "left")).toBeLessThan(1000);
    await finish(page);
  }, 60_000);

  it.each([
    ["sends more messages than can be read", "floods", FLOODS],
    ["keeps the graphics busy", "draws", DRAWS_WITHOUT_END],
  ])(
    "that %s keeps no notch waiting, by key or mouse, and the vote goes on",
    async (_, name, hostile) => {
      const page = await openBout(name, { gorse: hostile, heath: hostile.replace("<h1>", "<h1>Second. ") });
      await begun(page);
      const notches = await watchNotches(page);
      await new Promise((resolve) => setTimeout(resolve, 3500));
      const waits = await notches.chooseAll();
      // In the voter's own page: a driver that asks it is answered when it has read what was sent before.
      expect(waits.filter((ms) => ms < 1000)).toEqual(waits);
      expect(waits).toHaveLength(6);
      // What costs the booth itself too much is shown as recordings, on both sides.
      if (hostile === FLOODS) await page.getByText("shown as a recording").first().waitFor({ timeout: 60_000 });
      await notches.press("Enter");
      await page.getByText("All 1 are done.").waitFor({ timeout: 30_000 });
    },
    90_000,
  );

  it("that hangs freezes neither the votes nor the other stage", async () => {
    const page = await openBout("hangs", { gorse: HANGS, heath: HONEST });
    await begun(page);
    const notches = await watchNotches(page);
    await new Promise((resolve) => setTimeout(resolve, 1500));
    // In the voter's own page, as above: each call of a page that hangs is told to the driver.
    const waits = await notches.chooseAll();
    expect(waits.filter((ms) => ms < 1000)).toEqual(waits);
    expect(waits).toHaveLength(6);
    const frame = await stageWith(page, "Everything works");
    const ticks = () => frame.locator("#ticks").innerText();
    const before = await ticks();
    await expect.poll(ticks).not.toBe(before);
    await notches.press("Enter");
    await page.getByText("All 1 are done.").waitFor({ timeout: 30_000 });
  }, 60_000);

  it("that hangs while it has the keyboard loses it within a second or so", async () => {
    const page = await openBout("clicks", {
      gorse: HANGS_ON_CLICK,
      heath: HANGS_ON_CLICK.replace("<h1>", "<h1>Second. "),
    });
    await begun(page);
    const { x, y } = (await page.locator('iframe[title="Right page"]').boundingBox())!;
    await page.mouse.click(x + 200, y + 150);
    await expect.poll(() => page.getByText("Keys: the right page's").count()).toBe(1);
    // It hangs by then, and is noticed soon.
    await page.waitForTimeout(300);
    const startedAt = performance.now();
    await expect.poll(() => page.getByText("Keys: yours").count(), { timeout: 5000, interval: 50 }).toBe(1);
    expect(performance.now() - startedAt).toBeLessThan(2500);
    expect(await timeNotch(page, "2", "left")).toBeLessThan(1000);
    await finish(page);
  }, 60_000);

  it("gives an honest page what it needs", async () => {
    const page = await openBout("honest", { gorse: HONEST, heath: HONEST.replace("<h1>", "<h1>Second. ") });
    await begun(page);
    for (const side of ["Left", "Right"]) {
      const frame = page.frameLocator(`iframe[title="${side} page"]`);
      await expect.poll(() => frame.locator("#said").innerText(), { timeout: 10_000 }).toBe("Everything works");
    }
  }, 60_000);

  it("always gives the keyboard back on Escape, and lets no page take it unasked", async () => {
    const page = await openBout("grabs", { gorse: GRABS_KEYS, heath: GRABS_KEYS.replace("<h1>", "<h1>Second. ") });
    await begun(page);
    // Both pages have called document.open() by now; neither has gone away.
    await page.waitForTimeout(2500);
    expect(await page.getByText("The page went away from here.").count()).toBe(0);
    expect(await timeNotch(page, "1", "left by far")).toBeLessThan(1000);
    const left = page.locator('iframe[title="Left page"]');
    const leftUrl = await left.evaluate((element) => (element as HTMLIFrameElement).src);
    const { x, y } = (await left.boundingBox())!;
    await page.mouse.click(x + 40, y + 40);
    await expect.poll(() => page.getByText("Keys: the left page's").count()).toBe(1);
    await page.keyboard.press("5");
    expect(await page.getByRole("radio", { name: "left by far" }).isChecked()).toBe(true);
    await page.keyboard.press("Escape");
    await expect.poll(() => page.getByText("Keys: yours").count()).toBe(1);
    expect(await timeNotch(page, "5", "right by far")).toBeLessThan(1000);
    // A browser that takes the pointer back on Escape keeps the key to itself: all that is seen of it is that the pointer is free.
    await page.mouse.click(x + 40, y + 40);
    await expect.poll(() => page.getByText("Keys: the left page's").count()).toBe(1);
    const frame = page.frames().find((one) => one.url() === leftUrl);
    await frame!.evaluate(() => {
      document.exitPointerLock();
      document.dispatchEvent(new Event("pointerlockchange", { bubbles: true }));
      document.dispatchEvent(new Event("pointerlockchange", { bubbles: true }));
    });
    await expect.poll(() => page.getByText("Keys: yours").count()).toBe(1);
    await finish(page);
  }, 60_000);

  it("shows no name that would tell who made the page, however it is put there", async () => {
    const page = await openBout("names", { gorse: NAMES_ITSELF, heath: HONEST });
    await begun(page);
    const frame = await stageWith(page, "Said:");
    await page.waitForTimeout(1500);
    const shown = await frame.locator("body").evaluate((body) => ({
      text: (body as HTMLElement).innerText + (body.querySelector("#host")?.shadowRoot?.textContent ?? ""),
      attributes: [...body.querySelectorAll("*")].flatMap((element) =>
        [...element.attributes].map(({ value }) => value),
      ),
      drawn: (globalThis as unknown as { drawn: boolean[] }).drawn,
      typed: body.querySelector<HTMLInputElement>("#typed")!.value,
      drawing: decodeURIComponent(body.querySelector<HTMLImageElement>("#drawing")!.src),
      styled: ["styled", "adopted", "inserted", "variable", "split", "escaped", "attributed", "put-together"].map(
        (id) => getComputedStyle(body.querySelector(`#${id}`)!, "::before").content,
      ),
      listed: getComputedStyle(body.querySelector("#listed")!).listStyleType,
      backed: decodeURIComponent(getComputedStyle(body.querySelector("#backed")!).backgroundImage),
      declared: body.querySelector("#declared")!.shadowRoot?.textContent ?? "nothing of it is there",
      written: body.querySelector("#written > div")?.shadowRoot?.textContent ?? "nothing of it is there",
      shut: (globalThis as unknown as { readShut: () => string }).readShut(),
    }));
    expect(JSON.stringify(shown)).not.toMatch(/s\W*e\W*a\W*k\W*a\W*l\W*e|shingle/i);
    expect(shown.text).toMatch(/Said: •••\s/);
    expect(shown.text).toContain("seagulls");
    expect(shown.drawn).toEqual([true, true, true]);
    expect(shown.drawing).toContain("•••");
    expect(shown.backed).toContain("svg");
    expect(shown.declared).toContain("Declared by •••");
    expect(shown.shut).toContain("Shut in by •••");
    const inWorker = await frame
      .locator("body")
      .evaluate(() => (globalThis as unknown as { drawnInWorker: Promise<boolean[]> }).drawnInWorker);
    expect(inWorker).toEqual([true, true]);
  }, 60_000);

  it("has nobody's name in its source, its files, what it keeps or what it logs", async () => {
    const made = (name: string) =>
      `<!-- ${name} --><meta name="generator" content="${name}"><h1>A page</h1><script>/* by ${name} */ const maker = "\\n${name}"; localStorage.by = maker; console.log("%c" + maker, "color: teal", { by: maker }); document.cookie = "by=" + encodeURIComponent(maker);</script>`;
    const page = await openBout("sources", { gorse: made("Sea Kale 9"), heath: made("Shingle Bank") });
    const logged: string[] = [];
    page.on("console", (message) => logged.push(message.text()));
    await begun(page);
    await page.waitForTimeout(500);
    const addresses = await page
      .locator("iframe")
      .evaluateAll((all) => all.map((one) => (one as HTMLIFrameElement).src));
    for (const address of addresses) {
      const { text } = await readAnswer(address);
      const source = pageInStage(text);
      expect(source).toContain("A page");
      expect(text + source).not.toMatch(/kale|shingle/i);
    }
    for (const frame of page.frames().slice(1)) {
      const kept = await frame.evaluate(() =>
        JSON.stringify([Object.entries(localStorage), document.cookie, document.documentElement.outerHTML]),
      );
      expect(kept).not.toMatch(/kale|shingle/i);
    }
    expect(logged.length).toBeGreaterThan(0);
    expect(logged.join("\n")).not.toMatch(/kale|shingle/i);
  }, 60_000);

  it("is the same for all outputs in length, headers and pace", async () => {
    const short = "<!doctype html><title>a</title><h1>Short</h1>";
    const page = await openBout("lengths", { gorse: short, heath: HONEST + "<!-- long -->".repeat(2000) });
    await begun(page);
    const stages = await page
      .locator("iframe")
      .evaluateAll((frames) => frames.map((frame) => (frame as HTMLIFrameElement).src));
    const answers = await Promise.all(stages.map(readHeaders));
    expect(stages).toHaveLength(2);
    expect(answers[0]).toEqual(answers[1]);
    expect(answers[0]).toMatchObject({ status: 200, "content-type": "text/html; charset=utf-8" });
  }, 60_000);
});
