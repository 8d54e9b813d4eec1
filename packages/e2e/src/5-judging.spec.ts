import { expect, type Frame, type Page, test } from "@playwright/test";
import { listFaults } from "./list-faults.js";
import { goTo, LEAD_STATE } from "./lead.js";

test.describe.configure({ mode: "serial" });

let lead: Page;

test.beforeAll(async ({ browser }) => {
  lead = await (await browser.newContext({ storageState: LEAD_STATE })).newPage();
  await lead.goto("/wall");
});

/** Lets a page remember which keys it was given. */
const remember = (frame: Frame) =>
  frame.evaluate(() => {
    const heard: string[] = [];
    Object.assign(globalThis, { heard });
    addEventListener("keydown", ({ key }) => heard.push(key));
  });
const recall = (frame: Frame) => frame.evaluate(() => (globalThis as unknown as { heard: string[] }).heard);

test("two cells are marked by the keyboard and compared under one clock", async () => {
  const first = lead.getByRole("gridcell", { name: /^Lock Keeper, Samphire 3, recorded/ });
  await first.focus();
  await lead.keyboard.press("Space");
  await lead.keyboard.press("ArrowRight");
  await lead.keyboard.press("Space");
  await expect(lead.getByText(/^Marked: Samphire 3, Eelgrass 1/)).toBeVisible();
  await lead.keyboard.press("c");
  await expect(lead.getByRole("heading", { name: "Lock Keeper" })).toBeVisible();
  const clock = lead.getByRole("slider", { name: "Time" });
  await expect(clock).toHaveAttribute("aria-valuenow", "0");
  await lead.keyboard.press(".");
  await lead.keyboard.press(".");
  const atMs = Number(await clock.getAttribute("aria-valuenow"));
  expect(atMs).toBeGreaterThan(0);
  // Both show the frame of that time, and a link to it shows the same.
  const shown = `at ${(atMs / 1000).toFixed(1)} s`;
  await expect(lead.getByRole("img", { name: `Samphire 3 ${shown}` })).toBeVisible();
  await expect(lead.getByRole("img", { name: `Eelgrass 1 ${shown}` })).toBeVisible();
  await expect(lead).toHaveURL(new RegExp(`at=${atMs}`));
  await lead.reload();
  await expect(lead.getByRole("img", { name: `Samphire 3 ${shown}` })).toBeVisible();
  await expect(lead.getByRole("region", { name: "Figures" }).getByRole("row", { name: /^cost/ })).toContainText("$");
  expect(await listFaults(lead)).toEqual([]);
});

test("a key that is pressed in one live page is pressed in the other too, until Escape", async () => {
  await lead.getByRole("button", { name: "Live", exact: true }).click();
  await expect(lead.getByText("Getting all ready …")).toHaveCount(0);
  const frames = () => lead.frames().filter((frame) => frame.url().includes("/live/"));
  await expect.poll(() => frames().length).toBe(2);
  const [own, other] = frames() as [Frame, Frame];
  await expect.poll(() => other.evaluate(() => document.querySelectorAll("body *").length)).toBeGreaterThan(0);
  await remember(own);
  await remember(other);
  await lead.getByTitle("Lock Keeper by Samphire 3, live").click({ position: { x: 30, y: 30 } });
  await expect(lead.getByText(/^Keys: Samphire 3, and through it all/)).toBeVisible();
  await lead.keyboard.press("ArrowRight");
  await expect.poll(() => recall(other)).toEqual(["ArrowRight"]);
  expect(await recall(own)).toEqual(["ArrowRight"]);
  await lead.keyboard.press("Escape");
  await expect(lead.getByText(/^Keys: yours/)).toBeVisible();
  await lead.keyboard.press("k");
  await lead.getByTitle("Lock Keeper by Samphire 3, live").click({ position: { x: 30, y: 30 } });
  await lead.keyboard.press("ArrowLeft");
  await expect.poll(() => recall(own)).toEqual(["ArrowRight", "Escape", "ArrowLeft"]);
  expect(await recall(other)).toEqual(["ArrowRight"]);
  await lead.keyboard.press("Escape");
  expect(await listFaults(lead)).toEqual([]);
});

test("code stands beside code", async () => {
  await lead.getByRole("button", { name: "Code", exact: true }).click();
  await expect(lead.getByRole("textbox", { name: "index.html, left" })).toContainText("<!doctype html>");
  await expect(lead.getByRole("textbox", { name: "index.html, right" })).toBeVisible();
  expect(await listFaults(lead)).toEqual([]);
});

test("two are swiped over one another, and whole pages scrolled in step", async () => {
  for (const mode of ["Swipe", "Pages"]) {
    await lead.getByRole("button", { name: mode, exact: true }).click();
    await expect(lead.getByRole("main").locator("img").filter({ visible: true }).first()).toBeVisible();
    expect(await listFaults(lead), mode).toEqual([]);
  }
});

test("every entry is judged without the mouse, and the wall tallies it", async () => {
  await lead.goto("/judge");
  const status = lead.getByText(/^\d+ of \d+ judged$/);
  await expect(status).toHaveText(/^0 of [1-9]/);
  const entries = Number(/of (\d+)/.exec((await status.textContent())!)![1]);
  for (let judged = 0; judged < entries; judged++) {
    await expect(status).toHaveText(`${judged} of ${entries} judged`);
    await expect(lead.getByText("Not filled in yet.")).toBeVisible();
    await lead.keyboard.press("1");
    await lead.keyboard.press(judged % 2 === 0 ? "a" : "d");
    await expect(lead.getByText(/^Seen with its name, by Lead/)).toBeVisible();
    if (judged === 0) expect(await listFaults(lead)).toEqual([]);
    await lead.keyboard.press("Enter");
  }
  await expect(lead.getByRole("heading", { name: "All are judged" })).toBeVisible();
  expect(await listFaults(lead)).toEqual([]);
  await goTo(lead, "Wall");
  await expect(lead.getByRole("columnheader", { name: /Samphire 3/ })).toContainText(/\d of \d pass/);
  await goTo(lead, "Standings");
  await expect(lead.getByRole("heading", { name: "Score sheets" })).toBeVisible();
});
