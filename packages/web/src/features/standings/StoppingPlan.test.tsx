import type { StoppingPlan as Plan, StoppingState } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { EDITION, id } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { StoppingPlan } from "./StoppingPlan.js";

const PLAN: Plan = {
  ...{ id: id(70), goal: { kind: "first", count: 3 }, mostBallots: 500, looks: 5, ballotsBefore: 100 },
  ...{ setAt: "2026-11-26T00:00:00.000Z", givenUpAt: null },
};
const look = (ballots: number, isMet: boolean | null) => ({
  ballots,
  isMet,
  reached: isMet === null ? null : isMet ? 3 : 1,
});
const NONE: StoppingState = { plan: null, earlier: [], ballots: 100, looks: [], metAfter: null, isOver: false };
const HOLDS: StoppingState = {
  ...{ ...NONE, plan: PLAN, ballots: 210 },
  looks: [look(180, false), look(260, null), look(340, null)],
};

function show(state: StoppingState, more: object = {}) {
  const requests = stubServer({ [`GET /api/editions/${EDITION.id}/stopping`]: state, ...more });
  renderScreen(<StoppingPlan editionId={EDITION.id} ballots={100} />, { path: "/standings", address: "/standings" });
  return { bodyOf: (method: string) => requests.find((one) => one.method === method)?.body };
}

describe("a stopping plan on the standings", () => {
  it("is set in a form, and what is refused is said there", async () => {
    const { bodyOf } = show(NONE, {
      [`POST /api/editions/${EDITION.id}/stopping`]: problem(400, "120 ballots count already."),
    });
    await userEvent.click(await screen.findByRole("button", { name: "Set a plan …" }));
    await userEvent.selectOptions(screen.getByLabelText("Vote until"), "all ratings are sure enough");
    const looks = screen.getByLabelText("Looks");
    await userEvent.clear(looks);
    await userEvent.type(looks, "99");
    await userEvent.click(screen.getByRole("button", { name: "Set the plan" }));
    expect(looks.getAttribute("aria-invalid")).toBe("true");
    expect(bodyOf("POST")).toBeUndefined();
    await userEvent.clear(looks);
    await userEvent.type(looks, "4");
    await userEvent.click(screen.getByRole("button", { name: "Set the plan" }));
    await waitFor(() =>
      expect(bodyOf("POST")).toEqual({ goal: { kind: "within", points: 40 }, mostBallots: 150, looks: 4 }),
    );
    expect(await screen.findByText(/120 ballots count already/)).toBeTruthy();
  });

  it("says how far it is, when it is looked again, and how sure its looks are", async () => {
    show(HOLDS);
    expect(
      await screen.findByText(/Vote until the first 3 are told apart, or 500 ballots count; 5 looks/),
    ).toBeTruthy();
    expect(screen.getByRole("status").textContent).toBe(
      "Not met at 1 look; the next is after 260 ballots, 50 from now.",
    );
    expect(screen.getByRole("list", { name: "Looks" }).textContent).toContain("after 180: 1 of 3");
    expect(screen.getByText(/99 % intervals/)).toBeTruthy();
  });

  it("says when it is met", async () => {
    show({ ...HOLDS, looks: [look(180, true), look(260, null)], metAfter: 180, isOver: true });
    expect((await screen.findByRole("status")).textContent).toBe(
      "✓ Met at the look after 180 ballots: voting can stop.",
    );
  });

  it("is given up with a way back, and those given up before are told", async () => {
    const { bodyOf } = show(
      { ...HOLDS, earlier: [{ ...PLAN, id: id(71), mostBallots: 300, givenUpAt: PLAN.setAt }] },
      { [`PUT /api/stopping-plans/${PLAN.id}`]: { ...PLAN, givenUpAt: PLAN.setAt } },
    );
    expect(
      await screen.findByText(/Given up before: Vote until the first 3 are told apart, or 300 ballots/),
    ).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Give the plan up" }));
    await waitFor(() => expect(bodyOf("PUT")).toEqual({ givenUp: true }));
    expect(await screen.findByRole("button", { name: "Undo" })).toBeTruthy();
  });
});
