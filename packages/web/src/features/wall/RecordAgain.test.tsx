import type { RenderQueue } from "@tourney/core/contract";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { EDITION, WALL } from "../../../test-support/fixtures.js";
import { renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { WallScreen } from "./WallScreen.js";

const QUEUE: RenderQueue = {
  workers: [
    {
      id: "00000000-0000-4000-8000-000000000077",
      kind: "render",
      host: "a-host",
      pid: 7,
      capacity: 2,
      rendererVersion: "2",
      startedAt: "2026-01-01T00:00:00.000Z",
      seenAt: "2026-01-01T00:00:10.000Z",
    },
  ],
  waiting: 0,
  running: 0,
  stale: 0,
  failed: 0,
  recordedLastMinute: 0,
};
function show(queue: Partial<RenderQueue> = {}, wall = WALL) {
  const requests = stubServer({
    "GET /api/editions": [EDITION],
    [`GET /api/editions/${EDITION.id}/wall`]: wall,
    [`GET /api/editions/${EDITION.id}/render-queue`]: { ...QUEUE, ...queue },
    "POST /api/renders": { queued: 3 },
  });
  renderScreen(<WallScreen />, { path: "/wall" });
  return () => requests.filter(({ method }) => method === "POST").map(({ body }) => body);
}

describe("recording again", () => {
  it("takes a row, a column or all", async () => {
    const posted = show();
    await userEvent.click(await screen.findByRole("button", { name: "Record again" }));
    expect(screen.getByText(/1 worker on 1 host, 2 at a time. Nothing waits./)).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText("Prompts"), "Lamps");
    await userEvent.selectOptions(screen.getByLabelText("Entrants"), "Heath");
    await userEvent.click(screen.getByRole("button", { name: "Record again" }));
    const ids = {
      promptId: WALL.prompts.find(({ title }) => title === "Lamps")!.id,
      entrantId: WALL.entrants.find(({ name }) => name === "Heath")!.id,
    };
    await waitFor(() => expect(posted()).toEqual([{ editionId: EDITION.id, only: "all", ...ids }]));
  });

  it("offers what an older renderer made, and marks it on the wall", async () => {
    const cells = WALL.cells.map((cell) => ({ ...cell, stale: cell.picture !== null ? ("renderer" as const) : null }));
    const posted = show({ stale: 2 }, { ...WALL, cells });
    await userEvent.click(await screen.findByRole("button", { name: "2 stale recordings" }));
    await userEvent.click(screen.getByRole("button", { name: "Record again" }));
    await waitFor(() => expect(posted()).toEqual([{ editionId: EDITION.id, only: "stale" }]));
    expect(screen.getByText("stale")).toBeTruthy();
    expect(screen.getByRole("gridcell", { name: /Locks, Gorse, recorded, stale/ })).toBeTruthy();
  });

  it("says when nobody records, and how to help", async () => {
    show({ workers: [], waiting: 4 });
    await userEvent.click(await screen.findByRole("button", { name: /Recording 4/ }));
    expect(screen.getByText(/No recorder is running/)).toBeTruthy();
  });
});

describe("the guide to the marks", () => {
  it("says what each finding means and how it can err", async () => {
    show();
    await screen.findByRole("grid");
    await userEvent.click(screen.getByRole("button", { name: "What the marks mean" }));
    expect(await screen.findByRole("dialog", { name: "Findings" })).toBeTruthy();
    expect(screen.getByText("dead control")).toBeTruthy();
    expect(screen.getAllByText(/^Can err:/).length).toBeGreaterThan(15);
  });
});
