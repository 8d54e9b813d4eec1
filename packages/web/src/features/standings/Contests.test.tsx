import type { ContestResults, Edition, FormTally } from "@tourney/core/contract";
import { screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { EDITION, PROMPT, STANDINGS } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { Contests } from "./Contests.js";

const [first] = STANDINGS.rows;
const versionId = first!.version.id;
const WHOLE: Edition = {
  ...EDITION,
  id: STANDINGS.edition.id,
  prompts: [PROMPT, { ...PROMPT, key: "short", variantOf: { prompt: PROMPT.key, change: "keys are not named" } }],
};
const NOTHING: ContestResults = { forms: [], takes: null, pages: [], newcomers: [] };
const tally = (points: number, halfWidthHere: number | null, halfWidth: number | null = null): FormTally => ({
  ...{ ballots: 9, better: 2, even: 1, worse: 6, points, halfWidthHere, halfWidth },
});

function show(results: Partial<ContestResults>) {
  stubServer({
    [`GET /api/editions/${STANDINGS.edition.id}`]: WHOLE,
    [`GET /api/editions/${STANDINGS.edition.id}/contests`]: { ...NOTHING, ...results },
  });
  return renderScreen(<Contests standings={STANDINGS} />, { path: "/standings", address: "/standings" });
}
const rowOf = async (name: RegExp) => (await screen.findByRole("rowheader", { name })).closest("tr")!;

describe("other contests", () => {
  it("tell what a hint is worth: over all, by entrant, and by what the variant words otherwise", async () => {
    show({
      forms: [
        {
          contest: "hints",
          all: tally(-80, 30, 120),
          entrants: [{ versionId, ...tally(-60, 90) }],
          prompts: [{ promptId: PROMPT.id, form: "variant short", ...tally(-70, null) }],
        },
      ],
    });
    expect((await rowOf(/All entrants/)).textContent).toContain(
      "worse by 80 points ± 30; for prompts like these ± 120",
    );
    expect((await rowOf(new RegExp(first!.entrant.name))).textContent).toContain(
      "not told apart: 60 points worse ± 90",
    );
    const prompt = await rowOf(/keys are not named/);
    expect(within(prompt).getByText(/70 points worse, by one voter/)).toBeTruthy();
    expect(within(prompt).getByText("2 · 1 · 6")).toBeTruthy();
  });

  it("tell how far takes are apart, and say when the share of luck is not known", async () => {
    const takes = {
      ballots: 30,
      distance: 0.8,
      distanceBetween: 1.2,
      entrants: [{ versionId, ballots: 30, distance: 0.8 }],
      drift: [{ versionId, days: 61, ...tally(-40, 20, 60) }],
    };
    const { unmount } = show({ takes: { ...takes, share: null } });
    expect(await screen.findByText(/0\.80 of 2 notches from even for voters, two entrants 1\.20/)).toBeTruthy();
    expect(screen.getByText(/cannot be said yet/)).toBeTruthy();
    expect(screen.getByText("worse by 40 points ± 20; for prompts like these ± 60 (61 days apart)")).toBeTruthy();
    unmount();
    show({ takes: { ...takes, share: { share: 0.31, low: 0.1, high: 0.52 } } });
    expect(await screen.findByText(/31 % is luck of the draw \(10 % to 52 %, by prompts\)/)).toBeTruthy();
  });

  it("rate mended pages apart, beside the ranks of first shots", async () => {
    show({
      pages: [
        {
          pages: "mended-1",
          ballots: 40,
          rows: [{ versionId, rating: 1612.4, halfWidth: 55, rankRange: [1, 2], ballots: 20 }],
        },
      ],
    });
    expect(await screen.findByRole("heading", { name: "Ratings after 1 mend at most" })).toBeTruthy();
    expect((await rowOf(new RegExp(first!.entrant.name))).textContent).toContain("1612 ± 55");
  });

  it("say after how many ballots a newcomer was placed, and how surely", async () => {
    const step = (ballots: number, low: number, high: number) => ({
      ...{ ballots, rankRange: [low, high] as [number, number], rating: 1500, halfWidth: 60 },
    });
    show({ newcomers: [{ versionId, of: 8, steps: [step(5, 1, 8), step(20, 3, 5)], placedAfter: 20 }] });
    expect(await screen.findByText(/Placed after 20 ballots/)).toBeTruthy();
    expect(screen.getByText(/now rank 3–5 of 8 after 20 ballots/)).toBeTruthy();
    expect(screen.getByText("1–8")).toBeTruthy();
  });
});
