import { expect, type Page, test } from "@playwright/test";
import { goTo, LEAD_STATE } from "./lead.js";
import { listFaults } from "./list-faults.js";

test.use({ storageState: LEAD_STATE });

async function openEditor(page: Page): Promise<void> {
  await page.goto("/suite");
  await page.getByRole("link", { name: "Edit…" }).click();
  await expect(page.getByRole("textbox", { name: "The suite file" })).toBeVisible();
}

/** Replaces a piece of the text in the editor by searching for it, as a person would. */
async function replace(page: Page, from: string, to: string): Promise<void> {
  await page.getByRole("textbox", { name: "The suite file" }).click();
  await page.keyboard.press("Control+f");
  await page.getByPlaceholder("Find").fill(from);
  await page.getByPlaceholder("Replace").fill(to);
  await page.getByRole("button", { name: "replace", exact: true }).click();
  await page.getByRole("button", { name: "replace", exact: true }).click();
  await page.keyboard.press("Escape");
}

test("the next edition is written in the editor, checked as it is typed, compared, and frozen", async ({ page }) => {
  await openEditor(page);
  await replace(page, "kind: animation", "kind: poem");
  const issues = page.getByRole("region", { name: "To correct before it can be frozen" });
  await expect(issues.getByRole("listitem")).toHaveCount(1);
  await expect(issues).toContainText("prompts.1.kind");
  await expect(page.getByRole("button", { name: "Compare and freeze…" })).toBeDisabled();
  await replace(page, "kind: poem", "kind: animation");
  await replace(page, "title: Sweep", "title: The Sweep");
  await expect(page.getByRole("status")).toContainText("kept as a draft");

  // A draft outlives the page.
  await page.reload();
  await page.getByRole("button", { name: "Compare and freeze…" }).click();
  const change = page.getByRole("region", { name: /What edition 2 changes from edition 1/ });
  await expect(change.getByRole("deletion")).toHaveText("Sweep");
  await expect(change.getByRole("insertion")).toHaveText("The Sweep");
  await page.getByRole("button", { name: "Freeze edition 2" }).click();
  await expect(page.getByRole("button", { name: /^The Sweep/ })).toBeVisible();
  await page.getByRole("button", { name: "Compare…" }).click();
  await expect(page.getByRole("dialog").getByRole("insertion")).toHaveText("The Sweep");
});

test("what is exported is what was frozen, byte for byte when it is read in again", async ({ page }) => {
  await page.goto("/suite");
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Export" }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("skerry-exhibits-edition-2.yaml");
  const path = await download.path();
  await page.getByRole("button", { name: "Import…" }).click();
  await page.getByLabel("File", { exact: true }).setInputFiles(path);
  await page.getByRole("button", { name: "Compare", exact: true }).click();
  await expect(page.getByText("This is edition 2, which is there already")).toBeVisible();
});

test("a prompt is changed by its form and its walkthrough by pointer and keys, with one undo for all", async ({
  page,
}) => {
  await openEditor(page);
  await page.getByRole("combobox", { name: "Prompt" }).selectOption({ label: "Lock Keeper" });
  const file = page.getByRole("textbox", { name: "The suite file" });
  const title = page.getByRole("textbox", { name: "Title", exact: true });
  expect(await listFaults(page)).toEqual([]);
  await title.fill("Lock Warden");
  await expect(file).toContainText("title: Lock Warden");

  // Space comes a second later, by pointer; the first input half a second later, by keys.
  const space = page.getByRole("button", { name: /^Input 2: Space/ });
  await space.scrollIntoViewIfNeeded();
  const [from, lane] = [
    await space.boundingBox(),
    await page.getByRole("list", { name: "Inputs by time" }).boundingBox(),
  ];
  const [x, y] = [from!.x + from!.width / 2, from!.y + from!.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + lane!.width / 12, y, { steps: 4 });
  await page.mouse.move(x + lane!.width / 6, y, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole("button", { name: "Input 2: Space at 3.2 s" })).toBeVisible();
  await page.getByRole("button", { name: /^Input 1: ArrowRight/ }).focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("button", { name: "Input 1: ArrowRight held 1.2 s at 1.2 s" })).toBeFocused();

  // What was recorded earlier is there to aim at.
  await page.getByRole("button", { name: "Click", exact: true }).click();
  const map = page.getByRole("img", { name: /The page in small/ });
  await expect(page.getByText("Click to aim, on what an entrant has built for it.")).toBeVisible();
  await map.click({ position: { x: 20, y: 20 } });
  await expect(page.getByRole("button", { name: /^Input 5: click \d\d, \d\d at/ })).toBeVisible();

  await title.focus();
  for (let step = 0; step < 5; step++) await page.keyboard.press("Control+z");
  await expect(title).toHaveValue("Lock Keeper");
  await expect(page.getByRole("button", { name: "Input 2: Space at 2.2 s" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Undo" })).toBeDisabled();
  await title.fill("Lock Watcher");
  await page.getByRole("button", { name: "Throw draft away" }).click();
  await expect(page.getByRole("heading", { name: "Skerry exhibits" })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(file).toContainText("title: Lock Watcher");
  await page.getByRole("button", { name: "Throw draft away" }).click();
  await expect(page.getByRole("heading", { name: "Skerry exhibits" })).toBeVisible();
});

test("an edition keeps what its wordings have, and asks for the one prompt of which a word was changed", async ({
  page,
}) => {
  // Edition 2 changed a title alone: every answer and every ballot is there.
  await page.goto("/standings");
  await expect(page.getByRole("main").getByText(/^15 ballots · 4 voters · 4 prompts/)).toBeVisible();
  await goTo(page, "Runs");
  await expect(page.getByRole("button", { name: "Nothing is missing" })).toBeDisabled();

  await openEditor(page);
  await replace(page, "once in about five seconds", "once in about six seconds");
  await page.getByRole("button", { name: "Compare and freeze…" }).click();
  const change = page.getByRole("region", { name: /What edition 3 changes from edition 2/ });
  await expect(change).toContainText("3 prompts keep their answers and ballots");
  await expect(change).toContainText("new wording: models are asked again");
  await page.getByRole("button", { name: "Freeze edition 3" }).click();
  await expect(page).toHaveURL(/\/suite\?edition=/);

  await goTo(page, "Runs");
  await expect(page.getByRole("button", { name: "Send 3 requests" })).toBeVisible();
  await goTo(page, "Wall");
  await expect(page.getByRole("gridcell", { name: /^Lock Keeper, Samphire 3,/ })).toBeVisible();
  // The edition is in the address of each screen, and choosing the older one shows its own again.
  await page.getByRole("combobox", { name: "Edition" }).selectOption({ label: "edition 2" });
  await expect(page).toHaveURL(/edition=/);
  await goTo(page, "Runs");
  await expect(page).toHaveURL(/edition=/);
  await expect(page.getByRole("button", { name: "Nothing is missing" })).toBeDisabled();
});
