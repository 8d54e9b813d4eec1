import type { Course } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { FirstLook, wantFirstLook } from "./FirstLook.js";

const EDITION = "00000000-0000-4000-8000-000000000001";
const course = (sample: boolean): Course => ({
  title: "Skerry exhibits",
  sample,
  edition: {
    id: EDITION,
    suiteKey: "skerry-exhibits",
    suiteTitle: "Skerry exhibits",
    number: 1,
    digest: "0".repeat(64),
    promptCount: 2,
    generations: 16,
    sample,
    archived: false,
    frozenAt: "2031-05-12T08:00:00.000Z",
  },
  entrants: 8,
  cells: { total: 16, answered: 16, failed: 0, open: 0, costUsd: 0.2 },
  needLook: 0,
  ballots: 0,
  voters: 0,
  leaders: [],
  next: "wall",
});

const show = (sample = true) => {
  stubServer({ "GET /api/course": course(sample) });
  return renderScreen(<FirstLook />, { path: "*", address: "/wall" });
};
const place = async () =>
  (await screen.findByRole("dialog", { name: "First look" })).querySelector("strong")?.textContent;

beforeEach(() => {
  window.localStorage.clear();
  wantFirstLook();
});

describe("the first look", () => {
  it("leads over four screens by the keyboard alone, and does not come back", async () => {
    const user = userEvent.setup();
    const { router, unmount } = show();
    expect(await place()).toBe("Wall");
    const seen: string[] = [];
    for (let step = 0; step < 3; step++) {
      await user.keyboard("{Enter}");
      seen.push(`${await place()} ${router.state.location.pathname}`);
    }
    // No entry is recorded yet, so the second step stays on the wall.
    expect(seen).toEqual(["Entry /wall", "Booth /voting", "Standings /standings"]);
    await user.keyboard("{Enter}");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    unmount();
    wantFirstLook();
    show();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("is ended by Escape", async () => {
    show();
    await place();
    await userEvent.keyboard("{Escape}");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });

  it("is not laid over anything that did not ask for it", async () => {
    window.localStorage.clear();
    show();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("is for sample data only", async () => {
    show(false);
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(screen.queryByRole("dialog")).toBeNull();
  });
});
