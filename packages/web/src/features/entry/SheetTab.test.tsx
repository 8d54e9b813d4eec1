import type { JudgedEntry, ScoreSheet, Wall } from "@tourney/core/contract";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { EDITION, ENTRY, WALL } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { EntryScreen } from "./EntryScreen.js";
import { JudgeScreen } from "./Judging.js";

const SHEETS = `GET /api/entries/${ENTRY.id}/sheets`;
const SAVE = `PUT /api/entries/${ENTRY.id}/sheets/Lead`;
const sheet = (more: Partial<ScoreSheet> = {}): ScoreSheet => ({
  entryId: ENTRY.id,
  judge: "Lead",
  isBlind: false,
  watchpoints: [],
  verdict: null,
  marks: null,
  note: "",
  tags: [],
  createdAt: "2031-05-12T08:00:00.000Z",
  updatedAt: "2031-05-12T08:00:00.000Z",
  ...more,
});

function show(answers: Record<string, unknown> = {}, search = "tab=sheet") {
  const requests = stubServer({
    "GET /api/editions": [EDITION],
    [`GET /api/entries/${ENTRY.id}`]: ENTRY,
    [`GET /api/editions/${EDITION.id}/judging`]: { sheets: [], agreement: [] },
    [`GET /api/editions/${EDITION.id}/wall`]: WALL,
    [SHEETS]: [],
    [SAVE]: sheet(),
    ...answers,
  });
  const { router } = renderScreen(<EntryScreen />, {
    path: "/entries/:entryId",
    address: `/entries/${ENTRY.id}?view=recording&${search}`,
  });
  return { router, sent: () => requests.filter(({ method }) => method === "PUT").map(({ body }) => body) };
}

beforeEach(() => window.localStorage.clear());

describe("the score sheet", () => {
  it("is filled in by keys alone, and each change is sent whole", async () => {
    const user = userEvent.setup();
    const { sent } = show();
    await screen.findByText("Not filled in yet.");
    await user.keyboard("1a+");
    await waitFor(() =>
      expect(sent().at(-1)).toEqual({
        isBlind: false,
        watchpoints: [{ text: "The gates open", mark: "met" }],
        verdict: "pass",
        marks: 5,
        note: "",
        tags: [],
      }),
    );
    expect(screen.getByRole("button", { name: /pass/ }).getAttribute("aria-pressed")).toBe("true");
  });

  it("leaves keys to the words that are being written, and keeps those after a pause", async () => {
    const user = userEvent.setup();
    const { sent } = show();
    await screen.findByText("Not filled in yet.");
    await user.keyboard("n");
    await user.keyboard("asks for 3 days");
    await waitFor(() =>
      expect(sent().at(-1)).toMatchObject({ note: "asks for 3 days", verdict: null, watchpoints: [] }),
    );
    await user.keyboard("{Escape}d");
    await waitFor(() => expect(sent().at(-1)).toMatchObject({ note: "asks for 3 days", verdict: "fail" }));
  });

  it("keeps what could not be sent, and sends it with the next change", async () => {
    const user = userEvent.setup();
    const answers: Record<string, unknown> = { [SAVE]: problem(500, "The database is away.") };
    const { sent } = show(answers);
    await screen.findByText("Not filled in yet.");
    await user.keyboard("a");
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(screen.getByText("Being kept …")).toBeTruthy();
    await user.keyboard("-");
    await waitFor(() => expect(sent().at(-1)).toMatchObject({ verdict: "pass", marks: 5 }));
  });

  it("shows others' sheets apart, but not while names are hidden", async () => {
    const others = [sheet({ judge: "Bo", verdict: "part", marks: 6, note: "The gate sticks." })];
    show({ [SHEETS]: others });
    const section = within(await screen.findByRole("region", { name: "Score sheet" }));
    expect(await section.findByText("Bo")).toBeTruthy();
    expect(section.getByText("The gate sticks.")).toBeTruthy();
    expect(section.getByText(/part · 6 of ten/)).toBeTruthy();
  });

  it("hides who made it, and what may tell, while one judges blind", async () => {
    const user = userEvent.setup();
    const { sent } = show({ [SHEETS]: [sheet({ judge: "Bo", verdict: "part" })] }, "judge=1&blind=1");
    await screen.findByText("The name is hidden while you judge.");
    await screen.findByText("Not filled in yet.");
    expect(document.body.textContent).not.toContain("Gorse");
    for (const tab of ["Answer", "Request", /^Code/]) expect(screen.queryByRole("tab", { name: tab })).toBeNull();
    expect(screen.queryByText("Bo")).toBeNull();
    await user.keyboard("s");
    await waitFor(() => expect(sent().at(-1)).toMatchObject({ verdict: "part", isBlind: true }));
  });
});

describe("going through what is not judged", () => {
  const second = "00000000-0000-4000-8000-000000000032";
  const cells = [ENTRY.id, second].map((entryId, index) => ({
    ...WALL.cells[0]!,
    entryId,
    versionId: WALL.entrants[index]!.version.id,
    entrantId: WALL.entrants[index]!.id,
  }));
  const wall: Wall = { ...WALL, cells };

  it("goes on with Enter to the next without a verdict, and with K back", async () => {
    const user = userEvent.setup();
    const { router } = show(
      {
        [`GET /api/editions/${EDITION.id}/wall`]: wall,
        [`GET /api/entries/${second}`]: { ...ENTRY, id: second },
        [`GET /api/entries/${second}/sheets`]: [],
      },
      "judge=1",
    );
    await screen.findByText("0 of 2 judged");
    await user.keyboard("{Enter}");
    await waitFor(() => expect(router.state.location.pathname).toBe(`/entries/${second}`));
    await screen.findByText("0 of 2 judged");
    await user.keyboard("k");
    await waitFor(() => expect(router.state.location.pathname).toBe(`/entries/${ENTRY.id}`));
  });

  it("begins with the first that this judge has given no verdict on, and says when there is none", async () => {
    const judged = (entryId: string) => ({ entryId, judge: "Lead", verdict: "pass" }) as unknown as JudgedEntry;
    const whole = (entryId: string): JudgedEntry => ({
      ...judged(entryId),
      ...{
        kind: "game" as const,
        promptId: WALL.prompts[0]!.id,
        entrantId: WALL.entrants[0]!.id,
        versionId: WALL.entrants[0]!.version.id,
      },
      ...{
        take: 1,
        turn: 1,
        mends: 0,
        corrections: 0,
        isBlind: false,
        marks: null,
        met: 0,
        judgedWatchpoints: 0,
        tags: [],
      },
      updatedAt: "2031-05-12T08:00:00.000Z",
    });
    const answers: Record<string, unknown> = {
      "GET /api/editions": [EDITION],
      [`GET /api/editions/${EDITION.id}/wall`]: wall,
      [`GET /api/editions/${EDITION.id}/judging`]: { sheets: [whole(ENTRY.id)], agreement: [] },
    };
    stubServer(answers);
    const first = renderScreen(<JudgeScreen />, { path: "/judge" });
    await waitFor(() => expect(first.router.state.location.pathname).toBe(`/entries/${second}`));
    first.unmount();
    answers[`GET /api/editions/${EDITION.id}/judging`] = { sheets: [whole(ENTRY.id), whole(second)], agreement: [] };
    renderScreen(<JudgeScreen />, { path: "/judge" });
    expect(await screen.findByRole("heading", { name: "All are judged" })).toBeTruthy();
  });
});
