import { describeForecast, scaleRail } from "@tourney/core/conclusions";
import type { StandingsBasis } from "@tourney/core/contract";
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expose } from "comlink";
import { describe, expect, it, vi } from "vitest";
import { EDITION, STANDINGS } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { Counter } from "./counting/counter.js";
import { StandingsScreen } from "./StandingsScreen.js";

const PATH = `GET /api/editions/${EDITION.id}/standings`;
const show = (standings: unknown, address = "/standings") => {
  stubServer({
    "GET /api/editions": [EDITION],
    [PATH]: standings,
    [`${PATH}-views`]: [],
    [`GET /api/editions/${EDITION.id}/prompt-ratings`]: { overall: [], prompts: [], categories: [] },
  });
  return renderScreen(<StandingsScreen />, { path: "/standings", address });
};

const VOTER = "00000000-0000-4000-8000-000000000077";
const BASIS: StandingsBasis = {
  edition: EDITION,
  prompts: [],
  competitors: [],
  panels: [{ id: VOTER, title: "Friends", edition: 1, brokenRule: "pair", undeliveredRule: "lose" }],
  voters: [{ id: VOTER, name: "Una", panel: 0, sample: true }],
  cells: {
    ...{ prompt: [], competitor: [], pages: [], none: [], owed: [], clean: [], tried: [], costed: [] },
    ...{ costUsd: [], totalsMs: [], tokens: [], tokened: [], timedTokens: [], timedMs: [] },
  },
  ballots: { prompt: [], voter: [], left: [], right: [], lean: [], at: [], marks: [] },
  ...{ pages: "first", otherPages: ["mended-1"], formerVersions: 0, setAside: 0, readAt: "2026-01-01T00:00:00.000Z" },
};

/** In place of the worker, the counter itself behind a channel; the ballots come from the test. */
function stubWorker(basis: StandingsBasis): [asked: string[], terminated: () => boolean] {
  const asked: string[] = [];
  let isTerminated = false;
  class HeldCounter extends Counter {
    override load(address: string, pages: string) {
      asked.push(`${address} ${pages}`);
      return this.hold(basis);
    }
  }
  // Called with `new`, a function that gives an object gives that.
  vi.stubGlobal("Worker", function startWorker() {
    const { port1, port2 } = new MessageChannel();
    expose(new HeldCounter(), port2);
    return Object.assign(port1, { terminate: () => (isTerminated = true) });
  });
  return [asked, () => isTerminated];
}

describe("the standings", () => {
  it("give rank ranges, ratings with intervals and what the data do not support as a dash", async () => {
    show(STANDINGS);
    const row = within(await screen.findByRole("row", { name: /^1–2 Gorse/ }));
    expect(row.getByText("± 40")).toBeTruthy();
    expect(row.getByRole("img", { name: "Gorse: 1540, from 1500 to 1580" })).toBeTruthy();
    expect(screen.getByRole("row", { name: /— Sedge/ }).textContent).toContain("no ballots yet");
    expect(screen.getByRole("link", { name: "20 ballots" }).parentElement!.textContent).toContain("(all sample data)");
    expect(screen.getByText("2 could be first")).toBeTruthy();
    expect(screen.getByText("The left place is worth 0 points")).toBeTruthy();
  });

  it("ask for ballots while there are none", async () => {
    show({ ...STANDINGS, ballots: 0, rows: [] });
    expect(await screen.findByRole("heading", { name: "No ballots yet" })).toBeTruthy();
  });

  it("count what the address says, in a worker, and say it in a sentence", async () => {
    const [asked, terminated] = stubWorker(BASIS);
    show(STANDINGS, "/standings?kind=app&broken=lose");
    const status = await screen.findByText("Only ballots on apps. Pages that show nothing lose.");
    expect(await screen.findByRole("heading", { name: "No such ballots" })).toBeTruthy();
    expect(asked).toEqual([`/api/editions/${EDITION.id}/standings-basis first`]);
    await userEvent.click(within(status.closest("p")!).getByRole("button", { name: "Count all again" }));
    expect(await screen.findByRole("row", { name: /^1–2 Gorse/ })).toBeTruthy();
    expect(terminated()).toBe(true);
  });

  it("are chosen by menus, each choice in the address", async () => {
    stubWorker(BASIS);
    const { router } = show(STANDINGS);
    await userEvent.click(await screen.findByRole("button", { name: "All kinds" }));
    await userEvent.click(screen.getByRole("checkbox", { name: "Games" }));
    expect(router.state.location.search).toBe("?kind=game");
    await userEvent.click(screen.getByRole("checkbox", { name: "Apps" }));
    expect(router.state.location.search).toBe("?kind=game&kind=app");
    await userEvent.keyboard("{Escape}");
    await userEvent.click(screen.getByRole("button", { name: "All voters" }));
    await userEvent.click(await screen.findByRole("checkbox", { name: "Una" }));
    expect(router.state.location.search).toBe(`?kind=game&kind=app&without=${VOTER}`);
    expect(await screen.findByText("Only ballots on games and apps, without one voter.")).toBeTruthy();
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
});

describe("what would settle it", () => {
  const forecast = (more: object) => ({
    firstId: STANDINGS.rows[0]!.version.id,
    secondId: STANDINGS.rows[1]!.version.id,
    ballots: { low: 214, likely: 1234, high: null },
    ...{ voters: 31, prompts: 8, needs: "voters" as const },
    ...more,
  });

  it("is said for each two neighbours that are not told apart", async () => {
    show({ ...STANDINGS, forecasts: [forecast({})] });
    expect(await screen.findByText("Gorse over Heath")).toBeTruthy();
    expect(
      screen.getByText(
        "About 1,200 more ballots (210 to no number if the difference is one error larger or smaller), from 31 new voters: more by the same ones do not help.",
      ),
    ).toBeTruthy();
  });

  it("says which of voters and prompts must be new, and when nothing helps", () => {
    expect(describeForecast(forecast({ needs: "prompts" }))).toMatch(/on 8 new prompts: more on the same/);
    expect(describeForecast(forecast({ needs: "ballots" }))).toMatch(/by any voters, on any prompts\.$/);
    expect(describeForecast(forecast({ needs: "voters and prompts" }))).toMatch(/from 31 new voters, on 8 new prompts/);
    const none = { low: 3000, likely: null, high: null };
    expect(describeForecast(forecast({ ballots: none, voters: null, prompts: null }))).toMatch(/^Too close to call/);
  });
});
