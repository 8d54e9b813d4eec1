import { execFile } from "node:child_process";
import { mkdtemp, readFile, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { expect, type Page, test } from "@playwright/test";
import { beginVoting, LEAD_STATE } from "./lead.js";
import { listFaults } from "./list-faults.js";

test.describe.configure({ mode: "serial" });

const ROOT = join(import.meta.dirname, "../../..");
let lead: Page;
let folder: string;
const outputPath = (file: string) => join(folder, file);

test.beforeAll(async ({ browser }) => {
  lead = await (await browser.newContext({ storageState: LEAD_STATE })).newPage();
  await lead.goto("/standings");
  folder = await mkdtemp(join(tmpdir(), "tourney-export-"));
});
test.afterAll(() => rm(folder, { recursive: true, force: true }));

/** Opens the menu and saves one of its files. */
async function save(link: string, path: string): Promise<void> {
  if (!(await lead.getByRole("dialog", { name: "Report and exports" }).isVisible()))
    await lead.getByRole("button", { name: "Report and exports" }).click();
  const [download] = await Promise.all([
    lead.waitForEvent("download"),
    lead.getByRole("link", { name: link, exact: true }).click(),
  ]);
  await download.saveAs(path);
}

interface Rated {
  ballots: number;
  standings: { entrant: string; rating: number | null; halfWidth: number | null }[];
}

test("the standings say how entrants do on each kind and prompt", async () => {
  const byPrompt = lead.getByRole("region", { name: /^By prompt/ });
  const row = byPrompt.getByRole("row", { name: /^Lock Keeper/ });
  await expect(row.getByRole("img")).toHaveAccessibleName(/^Lock Keeper: .*Samphire 3 \d+ on \d+ ballots/);
  await expect(row).toContainText("too few ballots");
  const byKind = lead.getByRole("region", { name: /^By kind and tag/ });
  await expect(byKind.getByRole("row", { name: /^game/ }).getByRole("img")).toHaveAccessibleName(/Eelgrass 1 \d+/);
  const head = lead.getByRole("region", { name: /^Head to head/ });
  await expect(head.getByRole("button", { name: /expected by their ratings/ }).first()).toBeVisible();
  const byPrice = lead.getByRole("region", { name: "Rating against price" });
  await expect(byPrice.getByText(/^Nobody is rated higher for as little/)).toContainText(/Samphire 3|Eelgrass 1/);
  await byPrice.getByRole("button", { name: "as a table" }).click();
  await expect(byPrice.getByRole("row", { name: /^Samphire 3/ })).toContainText(/yes|no|perhaps/);
  expect(await listFaults(lead)).toEqual([]);
  await row.getByRole("link", { name: "Lock Keeper" }).click();
  await expect(lead).toHaveURL(/\/compare\?/);
  await lead.goto("/standings");
});

test("ballots are exported, and come to the same standings from the command line", async () => {
  const shown = await lead
    .getByRole("main")
    .getByText(/^\d+ ballots · /)
    .innerText();
  for (const [link, file] of [
    ["Ballots as CSV", "ballots.csv"],
    ["Ballots as JSONL", "ballots.jsonl"],
  ] as const) {
    const path = outputPath(file);
    await save(link, path);
    const { stdout } = await promisify(execFile)(join(ROOT, "tourney"), ["rate", path, "--json"], { cwd: ROOT });
    const rated = JSON.parse(stdout) as Rated;
    expect(`${rated.ballots} ballots`).toBe(/^\d+ ballots/.exec(shown)![0]);
    await save("Standings as JSON", outputPath("standings.json"));
    const { rows } = JSON.parse(await readFile(outputPath("standings.json"), "utf8")) as {
      rows: { entrant: { key: string }; rating: number | null; halfWidth: number | null }[];
    };
    const voted = rows.filter(({ rating }) => rating !== null);
    expect(rated.standings.map(({ entrant }) => entrant)).toEqual(voted.map(({ entrant }) => entrant.key));
    rated.standings.forEach(({ rating, halfWidth }, index) => {
      expect(rating!.toFixed(6)).toBe(voted[index]!.rating!.toFixed(6));
      expect(halfWidth!.toFixed(6)).toBe(voted[index]!.halfWidth!.toFixed(6));
    });
  }
});

test("voters are told by pseudonyms unless their names are asked for", async () => {
  expect(await listFaults(lead)).toEqual([]);
  await save("Ballots as CSV", outputPath("pseudonyms.csv"));
  expect(await readFile(outputPath("pseudonyms.csv"), "utf8")).not.toContain("Magnus");
  await lead.getByRole("checkbox", { name: "Voters' names beside their pseudonyms" }).check();
  await save("Ballots as CSV", outputPath("names.csv"));
  expect(await readFile(outputPath("names.csv"), "utf8")).toContain("Magnus");
});

test("what counts is chosen, said, reloads from the address, goes into files, and is kept under a name", async () => {
  await lead.goto("/standings");
  const main = lead.getByRole("main");
  const countBallots = async () =>
    Number(/^[\d,]+/.exec(await main.getByText(/^[\d,]+ ballots? /).innerText())![0].replace(",", ""));
  await expect(main.getByText(/^[\d,]+ ballots? /)).toBeVisible();
  const all = await countBallots();
  await lead.getByRole("button", { name: "All kinds" }).click();
  await lead.getByRole("checkbox", { name: "Games" }).check();
  await lead.keyboard.press("Escape");
  await lead.getByRole("button", { name: "As voted" }).click();
  await lead.getByRole("radio", { name: "They lose to any page that shows something" }).check();
  expect(await listFaults(lead)).toEqual([]);
  await lead.keyboard.press("Escape");
  const said = main.getByText("Only ballots on games. Pages that show nothing lose.");
  await expect(said).toBeVisible();
  await expect.poll(countBallots).toBeLessThan(all);
  const some = await countBallots();
  await lead.reload();
  await expect(said).toBeVisible();
  await expect.poll(countBallots).toBe(some);

  const path = outputPath("games.csv");
  await save("Ballots as CSV", path);
  const { stdout } = await promisify(execFile)(join(ROOT, "tourney"), ["rate", path, "--json"], { cwd: ROOT });
  const rated = JSON.parse(stdout) as Rated;
  expect(rated.ballots).toBe(some);
  await lead.keyboard.press("Escape");
  const first = main.getByRole("row", { name: new RegExp(String(Math.round(rated.standings[0]!.rating!))) });
  await expect(first.first()).toBeVisible();

  await lead.getByRole("button", { name: "Keep this view" }).click();
  await lead.getByRole("textbox", { name: "Name" }).fill("Games, strictly");
  await lead.keyboard.press("Enter");
  await expect(lead.getByRole("button", { name: "Games, strictly" })).toBeVisible();
  await main.getByRole("button", { name: "Count all again" }).click();
  await expect(said).toBeHidden();
  await lead.getByRole("button", { name: "Kept" }).click();
  await lead.getByRole("link", { name: "Games, strictly" }).click();
  await expect(said).toBeVisible();
});

test("standings are kept as they are, and what changed since is told by the ballots that made it", async () => {
  await lead.goto("/standings");
  await lead.getByRole("button", { name: "Kept" }).click();
  await lead.getByRole("textbox", { name: "Name" }).fill("Monday");
  await lead.getByRole("button", { name: "Keep these standings" }).click();
  await expect(lead.getByText("“Monday” keeps these standings.")).toBeVisible();
  expect(await listFaults(lead)).toEqual([]);
  await lead.keyboard.press("Escape");
  // A figure leads to the ballots that it is made of.
  const first = lead.getByRole("main").getByRole("row").nth(1);
  const link = first.getByRole("link", { name: /^\d+$/ });
  const ballots = await link.innerText();
  await link.click();
  const table = lead.getByRole("region", { name: "Ballots" });
  await expect(table.getByText(/^Only those of /)).toBeVisible();
  await expect(table.getByText(`${ballots} ballot`, { exact: false }).last()).toBeVisible();
  await expect(table.getByText(/^asked because: /).first()).toBeVisible();
  await table.getByRole("button", { name: "Void …" }).first().click();
  await table.getByRole("textbox", { name: "Why the ballot is voided" }).fill("a slip");
  await table.getByRole("button", { name: "Void", exact: true }).click();
  await expect(lead.getByText("The ballot does not count any more.")).toBeVisible();

  await lead.getByRole("link", { name: /^Standings/ }).click();
  await lead.getByRole("button", { name: "Kept" }).click();
  await lead.getByRole("button", { name: "What changed since Monday" }).click();
  await lead.keyboard.press("Escape");
  const changes = lead.getByRole("region", { name: "What changed" });
  await expect(changes.getByRole("listitem").filter({ hasText: "voided: a slip" }).first()).toContainText("1 ballot");
  await lead.reload();
  await expect(changes.getByText("voided: a slip").first()).toBeVisible();
  expect(await listFaults(lead)).toEqual([]);
  await changes.getByRole("button", { name: "Close" }).click();
  await expect(changes).toBeHidden();
});

test("a newcomer is placed by a panel of its own, and a plan says beforehand when to stop", async ({ browser }) => {
  await lead.goto("/voting");
  await lead.getByRole("button", { name: "Invite a panel" }).click();
  await lead.getByLabel("Name of the panel").fill("Placing Samphire");
  await lead.getByLabel("Bouts for each voter").fill("3");
  await lead.getByLabel("A newcomer to place").selectOption("Samphire 3");
  expect(await listFaults(lead)).toEqual([]);
  await lead.getByRole("button", { name: "Make the invitation" }).click();
  const panel = lead.getByRole("region", { name: "Placing Samphire" });
  const voter = await beginVoting(
    browser,
    (await panel.getByRole("link", { name: "Open the booth" }).getAttribute("href"))!,
    "Freya",
  );
  for (const done of [0, 1, 2]) {
    await expect(voter.getByText(`${done} of 3`)).toBeVisible();
    await expect(voter.getByText("Getting both ready …")).toHaveCount(0);
    await voter.keyboard.press("2");
    await voter.keyboard.press("Enter");
  }
  await expect(voter.getByRole("heading", { name: "Thank you" })).toBeVisible();
  await voter.context().close();
  await lead.goto("/standings");
  const contests = lead.getByRole("region", { name: /^Other contests/ });
  await expect(contests.getByText(/^(Placed|Not placed yet)/)).toContainText(/rank .* of \d+ after \d+ ballots/);

  const plan = lead.getByRole("region", { name: "When to stop" });
  await plan.getByRole("button", { name: "Set a plan …" }).click();
  const form = lead.getByRole("dialog", { name: "When to stop" });
  await form.getByLabel("How many of the first").fill("1");
  await form.getByLabel("Ballots at most").fill("5");
  await form.getByRole("button", { name: "Set the plan" }).click();
  // Fewer than there are, or than make sense, are refused where they were written.
  await expect(form.getByLabel("Ballots at most")).toHaveAttribute("aria-invalid", "true");
  await form.getByLabel("Ballots at most").fill("500");
  await form.getByRole("button", { name: "Set the plan" }).click();
  await expect(
    plan.getByText("Vote until the first is told apart from the rest, or 500 ballots count; 5 looks."),
  ).toBeVisible();
  await lead.reload();
  await expect(plan.getByText(/^No look is taken yet; the next is after \d+ ballots/)).toBeVisible();
  expect(await listFaults(lead)).toEqual([]);
  await plan.getByRole("button", { name: "Give the plan up" }).click();
  await expect(plan.getByText(/^Given up before: /)).toBeVisible();
  await lead.getByRole("button", { name: "Undo" }).click();
  await expect(plan.getByText(/^No look is taken yet/)).toBeVisible();
});

test("a script calls the API by a token that the lead makes, until it is revoked", async ({ playwright }) => {
  await lead.goto("/runs");
  await lead.getByRole("button", { name: "From a script…" }).click();
  await lead.getByRole("textbox", { name: "What it is for" }).fill("nightly check");
  await lead.getByRole("button", { name: "Make a token" }).click();
  const token = await lead.getByText(/^tourney_/).innerText();
  expect(await listFaults(lead)).toEqual([]);
  const script = await playwright.request.newContext({ extraHTTPHeaders: { Authorization: `Bearer ${token}` } });
  const editions = new URL("/api/editions", lead.url()).href;
  expect((await script.get(editions)).status()).toBe(200);
  await lead.getByRole("button", { name: "Revoke nightly check" }).click();
  await lead.getByRole("button", { name: "Revoke it" }).click();
  await expect(lead.getByText("No token opens anything yet.")).toBeVisible();
  expect((await script.get(editions)).status()).toBe(401);
  await script.dispose();
});

test("the report opens from disk without a network, and by a link until that is withdrawn", async ({ browser }) => {
  await lead.goto("/standings");
  await save("HTML file", outputPath("report.html"));
  const alone = await browser.newContext({ offline: true });
  const page = await alone.newPage();
  await page.goto(`file://${outputPath("report.html")}`);
  await expect(page.getByRole("heading", { name: /, edition \d+$/ })).toBeVisible();
  await expect(page.getByRole("region", { name: "The answer" })).toContainText(/blind ballots? by/);
  expect(await listFaults(page)).toEqual([]);
  await alone.close();

  await lead.getByRole("button", { name: "Link for readers" }).click();
  const link = lead.getByRole("list", { name: "Links for readers" }).getByRole("link");
  const url = (await link.getAttribute("href"))!;
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(url);
  await expect(guest.getByRole("heading", { name: "Standings" })).toBeVisible();
  await lead.getByRole("button", { name: "Withdraw" }).click();
  await expect(lead.getByText("The link opens nothing any more.")).toBeVisible();
  expect((await guest.goto(url))!.status()).toBe(404);
  await guest.context().close();
});
