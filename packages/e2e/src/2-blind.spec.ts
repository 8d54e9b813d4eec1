import { expect, test } from "@playwright/test";
import { ENDPOINT, LEAD_STATE } from "./lead.js";

/** Everything that the entrants of this Tourney are known by, as the lead's own pages have it. */
const IDENTITIES = [
  "Samphire",
  "samphire",
  "Eelgrass",
  "eelgrass",
  "Brinefield",
  "Cliffhouse",
  "Nowhere",
  // Host and port: the digits of a port alone may stand by chance in any digest or token.
  new URL(ENDPOINT).host,
];

test("nothing that the booth receives tells who made what", async ({ browser, baseURL }) => {
  const lead = await (await browser.newContext({ storageState: LEAD_STATE })).newPage();
  const editions = (await (await lead.request.get(`${baseURL!}/api/editions`)).json()) as { id: string }[];
  const wall = (await (await lead.request.get(`${baseURL!}/api/editions/${editions[0]!.id}/wall`)).json()) as {
    entrants: { id: string }[];
    cells: { entryId: string | null }[];
    prompts: { id: string }[];
  };
  const panel = (await (
    await lead.request.post(`${baseURL!}/api/panels`, {
      data: { editionId: editions[0]!.id, title: "Blind", quota: 8 },
    })
  ).json()) as { url: string };
  const secrets = [
    ...IDENTITIES,
    ...wall.entrants.map(({ id }) => id),
    ...wall.cells.flatMap(({ entryId }) => (entryId === null ? [] : [entryId])),
    ...wall.prompts.map(({ id }) => id),
  ];

  const voter = await (await browser.newContext()).newPage();
  const received: string[] = [];
  voter.on("response", async (response) => {
    received.push(response.url(), JSON.stringify(response.headers()));
    // The built interface is the same for everyone; what is read is what the server says about bouts and stages.
    if (!/\/assets\//.test(response.url())) received.push(await response.text().catch(() => ""));
  });
  await voter.goto(panel.url);
  await voter.getByRole("button", { name: "Begin" }).click();
  await voter.getByRole("button", { name: "Start voting" }).click();
  for (let i = 0; i < 4; i++) {
    await expect(voter.getByText(`${i} of 8`)).toBeVisible();
    await expect(voter.getByText("Getting both ready …")).toHaveCount(0);
    received.push(voter.url(), await voter.title(), await voter.content());
    for (const frame of voter.frames()) received.push(frame.url(), frame.name(), await frame.title());
    await voter.keyboard.press("3");
    await voter.keyboard.press("Enter");
  }
  const everything = received.join("\n");
  expect(everything).toContain("/stage/");
  expect(secrets.filter((secret) => everything.includes(secret))).toEqual([]);
  // The two stages of a bout differ in nothing but their page: same names, same shape of address.
  const stages = [
    ...everything.matchAll(/http:\/\/stage-[0-9a-f]{20}\.localhost:\d+\/stage\/([\w-]+)\/(\S+?)(?=["\s&]|$)/gm),
  ];
  expect(new Set(stages.map(([, token]) => token!.length)).size).toBe(1);
  expect(stages.some(([, , path]) => path === "page")).toBe(true);
});
