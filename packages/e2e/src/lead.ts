import { readFileSync } from "node:fs";
import { join } from "node:path";
import { type Browser, expect, type Page } from "@playwright/test";

const setting = (name: string): string => {
  const value = process.env[name];
  if (value === undefined) throw new Error(`${name} is not set: run this through \`./tourney test --only e2e\`.`);
  return value;
};

export const APP = setting("TOURNEY_E2E_APP");
export const ENDPOINT = setting("TOURNEY_E2E_ENDPOINT");
export const SUITE_YAML = readFileSync(join(import.meta.dirname, "../fixtures/suite.yaml"), "utf8");

/** Where the lead's session is kept for the specs that come after the one that signs in. */
export const LEAD_STATE = join(import.meta.dirname, "../../../.tourney/reports/lead.json");

/** A page that is signed in as the lead, by the one-time link. */
export async function signIn(browser: Browser): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  await page.goto(setting("TOURNEY_E2E_SIGN_IN"));
  await expect(page.getByRole("navigation", { name: "Steps of the job" })).toBeVisible();
  await page.context().storageState({ path: LEAD_STATE });
  return page;
}

/** Goes to a step of the job by the bar at the top. */
export async function goTo(page: Page, step: string): Promise<void> {
  await page.getByRole("navigation", { name: "Steps of the job" }).getByRole("link", { name: step }).click();
}

/** Opens an invitation in a browser of its own and begins. */
export async function beginVoting(browser: Browser, invitation: string, name: string): Promise<Page> {
  const page = await (await browser.newContext()).newPage();
  await page.goto(invitation);
  await page.getByLabel("Your name, if you like").fill(name);
  await page.getByRole("button", { name: "Begin" }).click();
  await page.getByRole("button", { name: "Start voting" }).click();
  await expect(page.getByTitle("Right page").first()).toBeVisible();
  await expect(page.getByText("Getting both ready …")).toHaveCount(0);
  return page;
}
