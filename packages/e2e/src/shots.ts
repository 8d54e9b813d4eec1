import { execFileSync } from "node:child_process";
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { type BrowserContext, chromium, type Page } from "@playwright/test";

/** Takes one picture of each main view of the running demo, for docs/screenshots. Run `./tourney demo` first. */
const ROOT = join(import.meta.dirname, "../../..");
const FOLDER = join(ROOT, "docs/screenshots");
const VIEWPORT = { width: 1280, height: 800 };

const tourney = (...args: string[]) => execFileSync(join(ROOT, "tourney"), args, { encoding: "utf8" }).trim();

async function shoot(page: Page, name: string): Promise<void> {
  // A page that is fed by events is never idle: then the time-out says that it is there.
  await page.waitForLoadState("networkidle", { timeout: 4000 }).catch(() => undefined);
  // On a busy machine it may still be waiting for what it shows.
  await page
    .getByText(/^Loading .* …$/)
    .first()
    .waitFor({ state: "detached" });
  const steps = page.getByRole("navigation", { name: "Steps of the job" });
  if ((await steps.count()) > 0) await steps.getByText(/^edition \d/).waitFor();
  // Let pictures and a live page draw themselves.
  await page.waitForTimeout(1200);
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
  console.log(`docs/screenshots/${name}.png`);
}

async function shootLead(context: BrowserContext, app: string, suffix: string): Promise<void> {
  const page = await context.newPage();
  for (const step of suffix === ""
    ? ["suite", "entrants", "runs", "wall", "voting", "standings"]
    : ["wall", "standings"]) {
    await page.goto(`${app}/${step}`);
    if (step === "wall" && suffix === "") await page.getByRole("gridcell").nth(4).hover();
    await shoot(page, `${step}${suffix}`);
  }
  if (suffix !== "") return;
  await page.goto(`${app}/suite/edit/skerry-exhibits`);
  await page.getByRole("textbox", { name: "The suite file" }).click();
  await page.keyboard.press("PageDown");
  await shoot(page, "suite-editor");
  await page.goto(`${app}/wall?kind=game`);
  await page.getByRole("gridcell", { name: /^Lamp Watch, Marram Small/ }).click();
  await page.getByRole("tab", { name: /^Findings/ }).waitFor();
  await shoot(page, "entry");
  await page.goto(`${app}/wall?kind=game`);
  await page.getByRole("gridcell", { name: /^Lock Keeper, Samphire 3,/ }).click();
  await page.getByRole("tab", { name: /^Inputs/ }).click();
  await page.getByRole("img", { name: "The page after" }).first().waitFor();
  await shoot(page, "entry-inputs");
}

/** Four entries under one clock, and one of them with its score sheet. */
async function shootLooking(context: BrowserContext, app: string): Promise<void> {
  const page = await context.newPage();
  await page.goto(`${app}/wall?kind=game`);
  for (const entrant of ["Samphire 3", "Marram Large", "Thrift 2", "Campion 7"]) {
    const cell = page.getByRole("gridcell", { name: new RegExp(`^Lamp Watch, ${entrant},`) });
    await cell.focus();
    await page.keyboard.press("Space");
  }
  await page.keyboard.press("c");
  await page.getByRole("slider", { name: "Time" }).waitFor();
  for (let frame = 0; frame < 6; frame++) await page.keyboard.press(".");
  await shoot(page, "compare");
  await page.goto(`${app}/judge?kind=game`);
  await page.getByRole("region", { name: "Score sheet" }).waitFor();
  await page.getByText(/^(?:Not filled in yet|Seen with)/).waitFor();
  const met = page.getByRole("button", { name: "met", exact: true });
  for (let index = 0; index < 3; index++)
    if ((await met.nth(index).getAttribute("aria-pressed")) === "false") await met.nth(index).click();
  await page.getByRole("button", { name: "8", exact: true }).click();
  await shoot(page, "score-sheet");
  await page.getByRole("button", { name: "Clear the sheet" }).click();
}

async function shootBooth(context: BrowserContext, invitation: string): Promise<void> {
  const page = await context.newPage();
  await page.goto(invitation);
  await page.getByRole("button", { name: "Begin" }).click();
  await page.getByRole("button", { name: "Start voting" }).click();
  await page.getByTitle("Right page").first().waitFor();
  await page.getByText("Getting both ready …").first().waitFor({ state: "detached" });
  // A game is what the booth is about: go on to one.
  const game = page.getByRole("heading", { name: /^(?:Lock Keeper|Lamp Watch|Herring Drift)/ });
  for (let i = 0; i < 14 && !(await game.isVisible()); i++) {
    const done = await page.getByRole("progressbar", { name: "Bouts done" }).getAttribute("aria-valuenow");
    // A bout can be answered once both pages are there.
    await page.getByText("Getting both ready …").first().waitFor({ state: "detached" });
    await page.keyboard.press("3");
    // A ballot that is still on its way holds the next one back.
    await page.getByRole("button", { name: /^Next/ }).click();
    await page.waitForFunction(
      (before) => document.querySelector("[aria-label='Bouts done']")?.getAttribute("aria-valuenow") !== before,
      done,
    );
  }
  await page.keyboard.press("4");
  await shoot(page, "booth");
}

mkdirSync(FOLDER, { recursive: true });
const { demo } = JSON.parse(tourney("status", "--json")) as { demo: { appUrl: string } | null };
if (!demo) throw new Error("The demo is not running: start it with `./tourney demo`.");
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: [
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    ...(process.getuid?.() === 0 ? ["--no-sandbox"] : []),
  ],
});
try {
  const light = await browser.newContext({ viewport: VIEWPORT, colorScheme: "light" });
  const page = await light.newPage();
  await page.goto(tourney("sign-in", "--demo"));
  await page.getByRole("navigation", { name: "Steps of the job" }).waitFor();
  await shootLead(light, demo.appUrl, "");
  await shootLooking(light, demo.appUrl);
  const dark = await browser.newContext({
    viewport: VIEWPORT,
    colorScheme: "dark",
    storageState: await light.storageState(),
  });
  await shootLead(dark, demo.appUrl, "-dark");
  await page.goto(`${demo.appUrl}/voting`);
  const invitation = await page.getByRole("link", { name: "Open the booth" }).first().getAttribute("href");
  await shootBooth(await browser.newContext({ viewport: VIEWPORT }), invitation!);
} finally {
  await browser.close();
}
