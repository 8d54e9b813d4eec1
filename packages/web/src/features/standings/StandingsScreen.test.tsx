import { screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { EDITION, STANDINGS } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { scaleRail } from "./rail-scale.js";
import { StandingsScreen } from "./StandingsScreen.js";

const PATH = `GET /api/editions/${EDITION.id}/standings`;
const show = (standings: unknown, address = "/standings") => {
  stubServer({
    "GET /api/editions": [EDITION],
    [PATH]: standings,
    [`${PATH}?kind=app`]: { ...STANDINGS, kind: "app", ballots: 0, rows: [] },
  });
  renderScreen(<StandingsScreen />, { path: "/standings", address });
};

describe("the standings", () => {
  it("give rank ranges, ratings with intervals and what the data do not support as a dash", async () => {
    show(STANDINGS);
    const row = within(await screen.findByRole("row", { name: /^1–2 Gorse/ }));
    expect(row.getByText("± 40")).toBeTruthy();
    expect(row.getByRole("img", { name: "Gorse: 1540, from 1500 to 1580" })).toBeTruthy();
    expect(screen.getByRole("row", { name: /— Sedge/ }).textContent).toContain("no ballots yet");
    expect(screen.getByText(/^20 ballots/).textContent).toContain("(all sample data)");
    expect(screen.getByText("2 could be first")).toBeTruthy();
    expect(screen.getByText("The left place is worth 0 points")).toBeTruthy();
  });

  it("ask for ballots while there are none", async () => {
    show({ ...STANDINGS, ballots: 0, rows: [] });
    expect(await screen.findByRole("heading", { name: "No ballots yet" })).toBeTruthy();
  });

  it("keep the kind in the address", async () => {
    show(STANDINGS, "/standings?kind=app");
    expect(await screen.findByRole("heading", { name: "No ballots on this kind" })).toBeTruthy();
  });

  it("say what failed", async () => {
    show(problem(503, "The database does not answer."));
    expect((await screen.findByRole("alert")).textContent).toContain("The database does not answer.");
  });
});

describe("scaleRail", () => {
  it("holds every interval between round ticks", () => {
    const scale = scaleRail([
      { rating: 1700, halfWidth: 130 },
      { rating: 1290, halfWidth: 15 },
      { rating: null, halfWidth: null },
    ]);
    expect([scale.min, scale.max]).toEqual([1200, 1900]);
    expect(scale.ticks.every((tick) => tick % 100 === 0)).toBe(true);
    expect(scale.toPercent(1200)).toBe(0);
    expect(scale.toPercent(1900)).toBe(100);
  });

  it("say how far the first is from the next, and of what more would do", async () => {
    const [first, second] = STANDINGS.rows;
    const forecast = {
      firstId: first!.version.id,
      secondId: second!.version.id,
      ballots: { low: 214, likely: 1234, high: null },
      needs: "voters" as const,
    };
    show({ ...STANDINGS, forecast });
    expect(await screen.findByText("About 1,200 more ballots would tell Gorse from Heath")).toBeTruthy();
    expect(
      screen.getByText(/210 if a little more, no number if a little less\. They must come from new voters/),
    ).toBeTruthy();
  });
});
