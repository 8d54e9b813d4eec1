import { type Browser, chromium, type Frame, type Page } from "@playwright/test";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { answerWith, byHand, markRecorded, suiteYaml } from "../../test-support/scenario.js";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

/** Plays a tone from a media element, and says what it believes of its sound. */
const TONE = `<!doctype html><html><body><audio loop src="data:audio/wav;base64,UklGRiUAAABXQVZFZm10IBAAAAABAAEAQB8AAEAfAAABAAgAZGF0YQEAAACA"></audio>
<p id="said"></p><script>
const audio = document.querySelector("audio");
audio.play().catch(() => {});
setInterval(() => { document.getElementById("said").textContent = "muted: " + audio.muted; }, 50);
</script></body></html>`;

let server: TestServer;
let browser: Browser;
let page: Page;
let entryId: string;

beforeAll(async () => {
  server = await startTestServer({ withInterface: true });
  await server.services.entrants.add(byHand("gorse"));
  const { edition } = await server.services.suites.importSuite(suiteYaml("tone"));
  const answer = { promptKey: "tone", entrantKey: "gorse", take: 1, text: answerWith(TONE) };
  await server.services.entries.addHandAnswer(edition.id, answer);
  await markRecorded(server);
  entryId = (await server.services.wall.getWall(edition.id)).cells[0]!.entryId!;
  browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", "--disable-background-networking", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(await server.services.auth.createSignInLink());
  await page.getByRole("navigation", { name: "Steps of the job" }).waitFor();
}, 60_000);
afterAll(async () => {
  await browser.close();
  await server.close();
});

/** Whether the element is muted in truth: read where the page's own script reaches nothing. */
async function isSilent(frame: Frame): Promise<boolean> {
  const session = await frame
    .page()
    .context()
    .newCDPSession(frame === frame.page().mainFrame() ? frame.page() : frame);
  const { frameTree } = await session.send("Page.getFrameTree");
  const { executionContextId } = await session.send("Page.createIsolatedWorld", { frameId: frameTree.frame.id });
  const { result } = await session.send("Runtime.evaluate", {
    expression: "document.querySelector('audio').muted",
    contextId: executionContextId,
  });
  await session.detach();
  return result.value as boolean;
}

describe("an entry's live page", () => {
  it("is silent until sound is asked for, and takes no notice of it", async () => {
    await page.goto(`${server.appOrigin}/entries/${entryId}`);
    await page.frameLocator("iframe[title*='live']").getByText("muted: false").waitFor();
    const frame = page.frames().find((one) => one.url().includes("/live/"))!;
    expect(await isSilent(frame)).toBe(true);
    await page.keyboard.press("m");
    await page.getByRole("button", { name: "Sound", pressed: true }).waitFor();
    await expect.poll(() => isSilent(frame)).toBe(false);
    await page.getByRole("button", { name: "Sound", exact: true }).click();
    await expect.poll(() => isSilent(frame)).toBe(true);
    await page.frameLocator("iframe[title*='live']").getByText("muted: false").waitFor();
  });

  it("has its sound in a window of its own, where it begins by itself", async () => {
    const [alone] = await Promise.all([
      page.context().waitForEvent("page"),
      page.getByRole("link", { name: "Open alone" }).click(),
    ]);
    await alone.getByText("muted: false").waitFor();
    expect(await isSilent(alone.mainFrame())).toBe(false);
  });
});
