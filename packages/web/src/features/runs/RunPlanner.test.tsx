import type { RunPlan } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { GRID, RUN, WALL } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { RunPlanner } from "./RunPlanner.js";

const PLAN: RunPlan = {
  wanted: 4,
  existing: 3,
  missing: 1,
  byEntrant: [
    {
      entrantId: WALL.entrants[1]!.id,
      missing: 1,
      inputTokens: 100,
      outputTokens: 900,
      costUsd: 0.02,
      seconds: 30,
      basis: "defaults",
    },
  ],
  costUsd: 0.02,
  unpriced: [],
  seconds: 30,
  unlike: [],
};

function show(plan: Partial<RunPlan> = {}) {
  const requests = stubServer({
    [`GET /api/editions/${GRID.editionId}/grid`]: GRID,
    "POST /api/runs/plan": { ...PLAN, ...plan },
    "POST /api/runs": RUN,
  });
  renderScreen(<RunPlanner editionId={WALL.edition.id} />);
  return { started: () => requests.filter(({ method, path }) => method === "POST" && path === "/api/runs") };
}

describe("planning a run", () => {
  it("says what it would cost and take, and from what that is known", async () => {
    const requests = show();
    expect((await screen.findByText(/^About/)).textContent).toMatch(/\$0\.020? and 30 s · 3 cells there already/);
    expect(screen.getByText(/From declared defaults/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Send 1 request" }));
    await waitFor(() => expect(requests.started()).toHaveLength(1));
    expect(requests.started()[0]!.body).toMatchObject({ takes: 1, options: { order: "round-robin", mendRounds: 0 } });
  });

  it("asks for a word of why when entrants are not alike", async () => {
    const requests = show({ unlike: [{ setting: "reasoning", message: "Reasoning is on for Gorse; off for Heath." }] });
    expect(await screen.findByText("Reasoning is on for Gorse; off for Heath.")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Say why first" }).disabled).toBe(true);
    await userEvent.type(
      screen.getByRole("textbox", { name: "Why they are compared all the same" }),
      "To see its worth.",
    );
    await userEvent.click(screen.getByRole("button", { name: "Send 1 request" }));
    await waitFor(() => expect(requests.started()[0]?.body).toMatchObject({ acceptedWhy: "To see its worth." }));
  });

  it("does not start with a budget that is none", async () => {
    show();
    await userEvent.type(await screen.findByRole("textbox", { name: "Budget in US dollars" }), "a lot");
    expect(screen.getByText("give an amount above 0")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Send 1 request" }).disabled).toBe(true);
  });
});
