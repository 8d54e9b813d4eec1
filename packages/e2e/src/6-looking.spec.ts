import { expect, type Page, test } from "@playwright/test";
import { LEAD_STATE } from "./lead.js";
import { listFaults } from "./list-faults.js";

test.describe.configure({ mode: "serial" });

let lead: Page;
/** Where the entry that was found is. */
let entry = "";

test.beforeAll(async ({ browser }) => {
  lead = await (await browser.newContext({ storageState: LEAD_STATE })).newPage();
  await lead.goto("/wall");
});

const cell = (name: RegExp) => lead.getByRole("gridcell", { name });

test("words of an answer are found from any screen, and lead to its entry", async () => {
  await expect(cell(/^Lock Keeper, Samphire 3, recorded/)).toBeVisible();
  await lead.keyboard.press("/");
  await lead.getByRole("combobox", { name: "Go to" }).fill("doctype lock");
  const found = lead.getByRole("option", { name: /answer$/ });
  await expect(found.first()).toContainText("Lock Keeper");
  await expect(found.first()).toContainText(/doctype/i);
  expect(await listFaults(lead)).toEqual([]);
  await lead.getByRole("combobox", { name: "Go to" }).fill("zyxwvut");
  await expect(lead.getByText("Nothing is called that, and no text has these words.")).toBeVisible();
  await lead.getByRole("combobox", { name: "Go to" }).fill("doctype lock");
  await expect(found.first()).toBeVisible();
  await found.first().click();
  await expect(lead).toHaveURL(/\/entries\//);
  entry = new URL(lead.url()).pathname;
});

test("each tab of an entry is free of faults that can be found by rule", async () => {
  const tabs = lead.getByRole("tab");
  await expect(tabs.first()).toBeVisible();
  for (let index = 0; index < (await tabs.count()); index++) {
    await tabs.nth(index).click();
    const name = await tabs.nth(index).innerText();
    expect(await listFaults(lead), name).toEqual([]);
  }
});

test("the wall is fanned out, played and filtered by keys, and a link to it shows the same", async () => {
  await lead.goto("/wall");
  await cell(/^Lock Keeper, Samphire 3, recorded/).focus();
  await lead.keyboard.press("f");
  const fan = lead.getByRole("dialog", { name: "Lock Keeper, Samphire 3" });
  await expect(fan.getByRole("list", { name: "Entries of this cell" }).getByRole("link").first()).toBeVisible();
  expect(await listFaults(lead)).toEqual([]);
  await lead.keyboard.press("Escape");
  await cell(/^Lock Keeper, Samphire 3, recorded/).focus();
  const asked = new Set<string>();
  const note = (request: { url: () => string }) => {
    if (request.url().includes("/api/blobs/")) asked.add(request.url());
  };
  lead.on("request", note);
  await lead.keyboard.press("p");
  const play = lead.getByRole("button", { name: "Play the row Lock Keeper" });
  await expect(play).toHaveAttribute("aria-pressed", "true");
  // It ends by itself, after the seconds of the recording.
  await expect(play).toHaveAttribute("aria-pressed", "false", { timeout: 15_000 });
  lead.off("request", note);
  // Each cell is one picture, however many moments it has.
  expect(asked.size).toBeGreaterThan(0);
  expect(asked.size).toBeLessThanOrEqual(await cell(/^Lock Keeper, /).count());
  const rows = await lead.getByRole("rowheader").count();
  await lead.getByRole("button", { name: "View…" }).click();
  await lead.getByRole("combobox", { name: "Outcome" }).selectOption({ label: "without a page by the model's doing" });
  await lead.keyboard.press("Escape");
  await expect(lead).toHaveURL(/outcome=none/);
  await lead.reload();
  const chip = lead.getByRole("button", { name: "Outcome: without a page by the model's doing" });
  await expect(chip).toBeVisible();
  expect(await lead.getByRole("rowheader").count()).toBeLessThan(rows);
  await chip.click();
  await expect.poll(() => lead.getByRole("rowheader").count()).toBe(rows);
});

test("no screen runs over its window at 390 px", async () => {
  await lead.setViewportSize({ width: 390, height: 844 });
  for (const path of ["/suite", "/entrants", "/runs", "/wall", "/voting", "/standings", entry]) {
    await lead.goto(path);
    await expect(lead.getByRole("main")).toBeVisible();
    const over = () => lead.evaluate(() => document.documentElement.scrollWidth - innerWidth);
    await expect.poll(over, { message: path }).toBeLessThanOrEqual(0);
  }
});
