import type { Health } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { type Answers, problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { useGetCourseQuery } from "./course-api.js";
import { HealthBar } from "./HealthBar.js";

const WELL: Health = { room: { freeBytes: 90e9, isLow: false }, recorders: 1, demo: null };
const AWAY = problem(503, "It does not answer.");
const answerAway = { ...AWAY, body: { ...AWAY.body, code: "DATABASE_UNAVAILABLE" } };
/** What the bar says; nothing where it is not there. */
const said = () => screen.queryByRole("alert")?.textContent ?? "";

function Beside() {
  useGetCourseQuery(undefined);
  return <HealthBar />;
}

describe("the state of Tourney", () => {
  it.each([
    [WELL, ""],
    [{ ...WELL, room: { freeBytes: 312_400_000, isLow: true } }, "Only 312 MB are left"],
    [{ ...WELL, recorders: 0 }, "No recorder lives"],
    [answerAway, "The database is away"],
    [undefined, "Tourney does not answer"],
  ])("is said where something is missing: %#", async (answer, words) => {
    const requests = stubServer(answer === undefined ? {} : { "GET /api/health": answer });
    renderScreen(<HealthBar />);
    await waitFor(() => expect(requests).not.toHaveLength(0));
    await waitFor(() => expect(said()).toContain(words));
    if (words === "") expect(said()).toBe("");
  });

  it("tells how far sample data are while they are made, and no longer", async () => {
    const progress = { rows: 14, rowsReady: 2, toRecord: 112, recorded: 20, ballots: 160, ballotsPlanned: 1560 };
    const answers: Answers = { "GET /api/health": { ...WELL, demo: { ...progress, remainingSeconds: 200 } } };
    stubServer(answers);
    renderScreen(<HealthBar />);
    expect((await screen.findByRole("status")).textContent).toBe(
      "Sample data are being made·20 of 112 outputs recorded, 2 of 14 rows ready to vote on, 160 of 1,560 sample ballots; about 3 minutes left",
    );
    answers["GET /api/health"] = WELL;
    await waitFor(() => expect(screen.queryByRole("status")).toBeNull());
  });

  it("is looked at soon again while something is away, and what was shown is asked for anew when it is back", async () => {
    const answers: Answers = { "GET /api/health": answerAway };
    const requests = stubServer(answers);
    renderScreen(<Beside />);
    await waitFor(() => expect(said()).toContain("The database is away"));
    const asked = () => requests.filter(({ path }) => path === "/api/course").length;
    const before = asked();
    answers["GET /api/health"] = WELL;
    await waitFor(() => expect(said()).toBe(""));
    await waitFor(() => expect(asked()).toBeGreaterThan(before));
  });
});
