import { expect, type Page, test } from "@playwright/test";
import { APP, beginVoting, ENDPOINT, goTo, signIn, SUITE_YAML } from "./lead.js";
import { listFaults } from "./list-faults.js";

test.describe.configure({ mode: "serial" });

const ENTRANTS = [
  { name: "Samphire 3", maker: "Brinefield", model: "samphire-3" },
  { name: "Eelgrass 1", maker: "Cliffhouse", model: "eelgrass-1" },
];

let lead: Page;
let invitation: string;

test.beforeAll(async ({ browser }) => {
  lead = await signIn(browser);
});

test("no empty screen has an accessibility fault that can be found by rule, in either theme", async () => {
  for (const path of [
    "/suite",
    "/entrants",
    "/runs",
    "/wall",
    "/voting",
    "/standings",
    "/judge",
    "/compare",
    "/nowhere",
  ]) {
    await lead.goto(path);
    await expect(lead.getByRole("main").getByRole("heading").first()).toBeVisible();
    expect(await listFaults(lead), path).toEqual([]);
  }
  await lead.goto("/suite");
});

test("a suite file is imported, and what is wrong with one is said with its line", async () => {
  await expect(lead.getByRole("heading", { name: "No suite yet" })).toBeVisible();
  await lead.getByRole("button", { name: "Import a suite file" }).click();
  const text = lead.getByRole("textbox", { name: "The suite file's text" });
  await text.fill(SUITE_YAML.replace("kind: game", "kind: poem"));
  await lead.getByRole("button", { name: "Compare", exact: true }).click();
  await expect(lead.getByRole("alert")).toContainText(/line 10, prompts\.0\.kind/);
  await text.fill(SUITE_YAML);
  await lead.getByRole("button", { name: "Compare", exact: true }).click();
  await expect(lead.getByText("becomes edition 1")).toBeVisible();
  await lead.getByRole("button", { name: "Import", exact: true }).click();
  await expect(lead.getByRole("heading", { name: "Skerry exhibits" })).toBeVisible();
  await lead.getByRole("button", { name: /^Sweep/ }).click();
  await lead.reload();
  await expect(lead.getByRole("heading", { name: "Sweep" })).toBeVisible();
});

test("entrants are entered on screen, and their endpoint is tested", async () => {
  await goTo(lead, "Entrants");
  for (const { name, maker, model } of ENTRANTS) {
    await lead.getByRole("button", { name: "Add an entrant" }).first().click();
    await lead.getByLabel("Name", { exact: true }).fill(name);
    await lead.getByLabel("Maker").fill(maker);
    await lead.getByLabel("Base URL").fill(ENDPOINT);
    await lead.getByLabel("Model id").fill(model);
    await lead.getByLabel("Input price", { exact: true }).fill("3");
    await lead.getByLabel("Output price", { exact: true }).fill("15");
    await lead.getByRole("button", { name: "Add", exact: true }).click();
    await expect(lead.getByRole("row", { name: new RegExp(name) })).toBeVisible();
  }
  await lead.getByRole("button", { name: "Test Samphire 3" }).click();
  await expect(lead.getByRole("row", { name: /Samphire 3/ })).toContainText(/✓ first token in/);
});

test("an endpoint that is not there gives a clear error, and a key that is not set is named", async () => {
  await lead.getByRole("button", { name: "Add an entrant" }).click();
  await lead.getByLabel("Name", { exact: true }).fill("Nowhere 1");
  await lead.getByLabel("Base URL").fill("http://localhost:9/v1");
  await lead.getByLabel("Model id").fill("nowhere-1");
  await lead.getByLabel("Key variable").fill("NOWHERE_KEY");
  await lead.getByRole("button", { name: "Add", exact: true }).click();
  await expect(lead.getByRole("row", { name: /Nowhere 1/ })).toContainText("its key is not set");
  await lead.getByRole("button", { name: "Test Nowhere 1" }).click();
  await expect(lead.getByRole("alert")).toContainText("NOWHERE_KEY is not set");
});

test("a run sends what is missing, survives what fails, and shows it", async () => {
  await goTo(lead, "Runs");
  await lead.getByRole("button", { name: "Send 12 requests" }).click();
  await expect(lead.getByRole("progressbar", { name: "Answers" })).toHaveAttribute("aria-valuenow", "8", {
    timeout: 60_000,
  });
  const failures = lead.getByRole("region", { name: "Without an answer" });
  await expect(failures.getByRole("listitem")).toHaveCount(1);
  await expect(failures).toContainText("4 · NOWHERE_KEY is not set");
  await expect(lead.getByText(/8 of 8 recorded/)).toBeVisible({ timeout: 90_000 });
  await lead.reload();
  await expect(lead.getByRole("heading", { name: "Run 1" })).toBeVisible();
});

test("the wall shows every entry, is walked by the keyboard, and opens one", async () => {
  await goTo(lead, "Wall");
  const first = lead.getByRole("gridcell", { name: /^Lock Keeper, Samphire 3, recorded/ });
  await expect(first).toBeVisible();
  await expect(lead.getByRole("gridcell", { name: /Nowhere 1, failed, NOWHERE_KEY is not set/ })).toHaveCount(4);
  const picture = first.getByRole("presentation").or(first.locator("img")).first();
  await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(100);
  await first.focus();
  await lead.keyboard.press("ArrowDown");
  await lead.keyboard.press("Enter");
  await expect(lead.getByRole("heading", { name: "Sweep" })).toBeVisible();
  await expect(lead.getByRole("list", { name: "Filmstrip" }).getByRole("listitem")).toHaveCount(12);
  await lead.getByRole("tab", { name: /^Code/ }).click();
  await expect(lead.getByText("<!doctype html>", { exact: false }).first()).toBeVisible();
  await lead.getByRole("tab", { name: "Request" }).click();
  await expect(lead.getByText("samphire-3").first()).toBeVisible();
});

test("the live page has no rights: no origin, no network, no way to the app", async () => {
  const stage = lead.frameLocator("iframe[title*='live']");
  await expect(stage.locator("canvas, svg").first()).toBeVisible();
  const frame = lead.frames().find((candidate) => candidate.url().includes("/live/"))!;
  const rights = await frame.evaluate(async (app) => {
    const attempt = async (what: () => unknown): Promise<string> => {
      try {
        await what();
        return "allowed";
      } catch {
        return "refused";
      }
    };
    return {
      origin: self.origin,
      // A page may keep cookies of its own for as long as it is open; none of the app's is among them.
      cookies: document.cookie,
      parent: await attempt(() => window.parent.document.title),
      top: await attempt(() => (window.top!.location.href = "about:blank")),
      network: await attempt(() => fetch(`${app}/api/session`)),
      popup: window.open("about:blank") === null ? "refused" : "allowed",
      webrtc: typeof RTCPeerConnection,
      storage: await attempt(() => {
        localStorage.setItem("score", "7");
        if (localStorage.getItem("score") !== "7") throw new Error("not kept");
      }),
    };
  }, APP);
  expect(rights).toEqual({
    origin: "null",
    cookies: "",
    parent: "refused",
    top: "refused",
    network: "refused",
    popup: "refused",
    webrtc: "undefined",
    storage: "allowed",
  });
});

test("a panel is invited", async () => {
  await goTo(lead, "Voting");
  await lead.getByRole("button", { name: "Invite a panel" }).click();
  await lead.getByLabel("Name of the panel").fill("Friends of the museum");
  await lead.getByLabel("Bouts for each voter").fill("4");
  await lead.getByRole("button", { name: "Make the invitation" }).click();
  const link = lead.getByRole("link", { name: "Open the booth" });
  await expect(link).toBeVisible();
  invitation = (await link.getAttribute("href"))!;
});

test("a voter casts three ballots by keyboard and takes one back", async ({ browser }) => {
  const voter = await beginVoting(browser, invitation, "Una");
  for (const [index, key] of ["2", "5", "3"].entries()) {
    await expect(voter.getByText(`${index} of 4`)).toBeVisible();
    await expect(voter.getByText("Getting both ready …")).toHaveCount(0);
    await voter.keyboard.press(key);
    await expect(
      voter.getByRole("radio", {
        name: ["left by far", "left", "even", "right", "right by far"][Number(key) - 1]!,
        exact: true,
      }),
    ).toBeChecked();
    if (index === 0) {
      await voter.keyboard.press("q");
      await expect(
        voter.getByRole("region", { name: "Left" }).getByRole("button", { name: /Doesn't work/ }),
      ).toHaveAttribute("aria-pressed", "true");
    }
    await voter.keyboard.press("Enter");
  }
  await expect(voter.getByText("3 of 4")).toBeVisible();
  await voter.keyboard.press("Backspace");
  await expect(voter.getByText("2 of 4")).toBeVisible();
  await voter.keyboard.press("4");
  await voter.keyboard.press("Enter");
  await expect(voter.getByText("3 of 4")).toBeVisible();
  await voter.reload();
  await expect(voter.getByText("3 of 4")).toBeVisible();
  await voter.context().close();
});

test("Escape gives the keyboard back from inside a page", async ({ browser }) => {
  const voter = await beginVoting(browser, invitation, "Magnus");
  await voter
    .getByRole("region", { name: "Left" })
    .locator("iframe")
    .click({ position: { x: 40, y: 200 } });
  await expect(voter.getByRole("status")).toContainText("Keys: the left page's");
  await voter.keyboard.press("1");
  await expect(voter.getByRole("radio", { name: "left by far" })).not.toBeChecked();
  await voter.keyboard.press("Escape");
  await expect(voter.getByRole("status")).toContainText("Keys: yours");
  await voter.keyboard.press("1");
  await expect(voter.getByRole("radio", { name: "left by far" })).toBeChecked();
  for (let i = 0; i < 4; i++) {
    await expect(voter.getByText(`${i} of 4`)).toBeVisible();
    await voter.keyboard.press("1");
    await voter.keyboard.press("Enter");
  }
  await expect(voter.getByRole("heading", { name: "Thank you" })).toBeVisible();
  await voter.context().close();
});

test("no screen of a voter has an accessibility fault that can be found by rule, in either theme", async ({
  browser,
}) => {
  const voter = await (await browser.newContext()).newPage();
  await voter.goto(invitation);
  const begin = voter.getByRole("button", { name: "Begin" });
  await expect(begin).toBeVisible();
  expect(await listFaults(voter), "welcome").toEqual([]);
  await begin.click();
  await expect(voter.getByRole("button", { name: "Start voting" })).toBeVisible();
  expect(await listFaults(voter), "introduction").toEqual([]);
  await voter.getByRole("button", { name: "Start voting" }).click();
  await expect(voter.getByTitle("Right page").first()).toBeVisible();
  await expect(voter.getByText("Getting both ready …")).toHaveCount(0);
  expect(await listFaults(voter), "bout").toEqual([]);
  for (let i = 0; i < 4; i++) {
    await expect(voter.getByText(`${i} of 4`)).toBeVisible();
    await voter.keyboard.press("3");
    await voter.keyboard.press("Enter");
  }
  await expect(voter.getByRole("heading", { name: "Thank you" })).toBeVisible();
  expect(await listFaults(voter), "end").toEqual([]);
  await voter.context().close();
});

test("the standings move with the ballots", async () => {
  await goTo(lead, "Standings");
  await expect(lead.getByRole("main").getByText(/^11 ballots · /)).toBeVisible();
  const rows = lead.getByRole("table").first().getByRole("row");
  await expect(rows.filter({ hasText: "Samphire 3" })).toContainText(/±/);
  await expect(rows.filter({ hasText: "Nowhere 1" })).toContainText("no ballots yet");
  await expect(lead.getByRole("navigation", { name: "Steps of the job" })).toContainText("11 ballots · 3 voters");
});

test("no screen of the lead has an accessibility fault that can be found by rule, in either theme", async () => {
  for (const step of ["Suite", "Entrants", "Runs", "Wall", "Voting", "Standings"]) {
    await goTo(lead, step);
    await expect(lead.getByRole("main")).toBeVisible();
    expect(await listFaults(lead), step).toEqual([]);
  }
});
