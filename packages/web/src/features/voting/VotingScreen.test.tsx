import type { Edition, Panel, VoterReliability, VotingReport } from "@tourney/core/contract";
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { EDITION, ENTRANT, PROMPT } from "../../../test-support/fixtures.js";
import { PANEL, voter } from "../../../test-support/panel-fixtures.js";
import { type Answers, problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { VotingScreen } from "./VotingScreen.js";

const idOf = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const WHOLE: Edition = { ...EDITION, prompts: [PROMPT] };

const reliability = (more: Partial<VoterReliability>): VoterReliability => ({
  voterId: idOf(61),
  panelTitle: "Friends",
  name: "Una",
  sample: false,
  ballots: 10,
  leftShare: { share: 0.9, low: 0.6, high: 0.98, of: 10 },
  evenShare: 0,
  selfAgreement: { share: 0.5, of: 2 },
  agreement: null,
  medianDwellMs: 12_000,
  flags: ["chose the left 9 times of 10"],
  leftOut: null,
  ...more,
});
const REPORT: VotingReport = {
  ballots: 20,
  ballotsLastHour: 3,
  hours: [{ at: "2026-11-26T00:00:00.000Z", ballots: 20 }],
  voters: [reliability({})],
  thinPairs: [{ firstId: idOf(1), secondId: idOf(2), ballots: 1 }],
  promptsWithout: [{ id: idOf(3), title: "Tide Pool" }],
  disputes: [
    {
      promptId: idOf(4),
      promptTitle: "Lock Keeper",
      firstEntryId: idOf(5),
      secondEntryId: idOf(6),
      firstEntrantId: idOf(1),
      secondEntrantId: idOf(2),
      leans: [-2, 2],
    },
  ],
  reasons: [{ entrantId: idOf(1), kind: "game", reason: "motion", preferred: 4, other: 1 }],
  skips: [{ reason: "cannot judge", count: 2 }],
  entrants: [
    { id: idOf(1), name: "Samphire 3", glyph: 0, versionId: idOf(1) },
    { id: idOf(2), name: "Thrift 2", glyph: 1, versionId: idOf(2) },
  ],
};

function show(panels: Panel[], more: Answers = {}) {
  const answers: Answers = {
    "GET /api/editions": [EDITION],
    [`GET /api/editions/${EDITION.id}`]: WHOLE,
    [`GET /api/editions/${EDITION.id}/panels`]: panels,
    [`GET /api/editions/${EDITION.id}/voting-report`]: REPORT,
    [`GET /api/editions/${EDITION.id}/audit-trail`]: [],
    [`GET /api/editions/${EDITION.id}/ballots?only=all`]: { ballots: [], total: 0, before: null },
    [`GET /api/editions/${EDITION.id}/stopping`]: {
      ...{ plan: null, earlier: [], ballots: 20, looks: [], metAfter: null, isOver: false },
    },
    "GET /api/entrants": [ENTRANT],
    ...more,
  };
  const requests = stubServer(answers);
  renderScreen(<VotingScreen />, { path: "/voting", address: "/voting" });
  return { answers, bodyOf: (method: string) => requests.find((one) => one.method === method)?.body };
}

describe("voting", () => {
  it("says what a panel's rules are and how far each voter can be relied on, with the evidence", async () => {
    show([PANEL]);
    expect(await screen.findByText(/All 1 prompts · all entrants · open until closed/)).toBeTruthy();
    const una = (await screen.findByText("◆ chose the left 9 times of 10")).closest("tr")!;
    for (const text of ["Una", "10 of 20", "90 % of 10", "50 % of 2", "12 s"]) expect(una.textContent).toContain(text);
    const lead = screen.getByText(/the lead, not blind/).closest("tr")!;
    expect(lead.textContent).toContain("Left out of the ratings: not blind");
    expect(within(lead).getByRole("button", { name: "Let count again" })).toBeTruthy();
  });

  it("tells of those who passed over much, came from one network, or were refused for that", async () => {
    const busy = voter(63, "Ada", { skipped: 30, sharesPlaceWith: 49 });
    show([{ ...PANEL, voters: [voter(61, "Una", { skipped: 2, sharesPlaceWith: 1 }), busy], joinsRefused: 3 }]);
    const ada = (await screen.findByText("passed over 30 of 40 bouts")).closest("tr")!;
    expect(ada.textContent).toContain("came from the same network as 49 others");
    expect(screen.getAllByText(/^Una/)[0]!.closest("tr")!.textContent).not.toContain("network");
    expect(screen.getByText(/3 times somebody was refused/)).toBeTruthy();
  });

  it("draws those of many voters who are in sight, and whoever is being left out", async () => {
    // This document has no layout: every element is said to be so high.
    const height = vi.spyOn(HTMLElement.prototype, "offsetHeight", "get").mockReturnValue(410);
    const voters = Array.from({ length: 500 }, (_, n) => voter(1000 + n, `Voter ${n}`));
    show([{ ...PANEL, voters }]);
    const frame = await screen.findByRole("region", { name: "Voters of Friends" });
    const names = () =>
      within(frame)
        .queryAllByRole("rowheader")
        .map((one) => one.textContent);
    await waitFor(() => expect(names()[0]).toBe("Voter 0"));
    expect(names().length).toBeLessThan(60);
    expect(within(frame).getByRole("table").getAttribute("aria-rowcount")).toBe("501");
    await userEvent.click(within(frame).getAllByRole("button", { name: "Leave out …" })[1]!);
    await userEvent.type(screen.getByRole("textbox", { name: "Why Voter 1 is left out" }), "asked me to");
    Object.defineProperty(frame, "scrollTop", { value: 60_000, configurable: true });
    fireEvent.scroll(frame);
    await waitFor(() => expect(names()).not.toContain("Voter 0"));
    expect(names().length).toBeLessThan(60);
    expect(screen.getByRole("textbox", { name: "Why Voter 1 is left out" })).toHaveProperty("value", "asked me to");
    height.mockRestore();
  });

  it("shows gaps, disputes with the way to look at them, reasons and what was passed over", async () => {
    show([PANEL]);
    const thin = await screen.findByRole("region", { name: "Thin pairs" });
    expect(thin.textContent).toContain("1 ballot");
    expect(thin.textContent).toContain("No ballot counts for Tide Pool");
    const disputes = screen.getByRole("region", { name: "Disputes" });
    expect(within(disputes).getByRole("link", { name: "Samphire 3" }).getAttribute("href")).toBe(`/entries/${idOf(5)}`);
    expect(within(disputes).getByRole("img").getAttribute("aria-label")).toBe("first by far, second by far");
    expect(screen.getByRole("region", { name: "Reasons" }).textContent).toContain("4 / 1");
    expect(screen.getByText("Passed over: cannot judge 2×")).toBeTruthy();
  });

  it("shows the ballots of another edition's panels where this one has none of its own", async () => {
    const report = `GET /api/editions/${EDITION.id}/voting-report`;
    show([], { [report]: { ...REPORT, promptsWithout: [] } });
    expect(await screen.findByText("No panel of this edition yet")).toBeTruthy();
    expect(screen.getByRole("region", { name: "Ballots" })).toBeTruthy();
  });

  it("leaves a voter out with the evidence as the reason, and takes nothing from a voter without one", async () => {
    const PUT = `PUT /api/voters/${idOf(61)}/left-out`;
    const { bodyOf } = show([PANEL], { [PUT]: PANEL });
    const una = (await screen.findByText("◆ chose the left 9 times of 10")).closest("tr")!;
    await userEvent.click(within(una).getByRole("button", { name: "Leave out …" }));
    const why = screen.getByRole("textbox", { name: "Why Una is left out" });
    expect((why as HTMLInputElement).value).toBe("chose the left 9 times of 10");
    await userEvent.clear(why);
    expect(screen.getByRole("button", { name: "Leave out" }).hasAttribute("disabled")).toBe(true);
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByRole("textbox", { name: "Why Una is left out" })).toBeNull();
    await userEvent.click(within(una).getByRole("button", { name: "Leave out …" }));
    await userEvent.keyboard("{Enter}");
    await waitFor(() => expect(bodyOf("PUT")).toEqual({ why: "chose the left 9 times of 10" }));
  });

  it("closes the open invitation, and says so where that fails", async () => {
    const PUT = `PUT /api/panels/${PANEL.id}/invitation`;
    const { answers, bodyOf } = show([PANEL], { [PUT]: problem(409, "It is closed already.") });
    await userEvent.click(await screen.findByRole("button", { name: "Close it" }));
    expect((await screen.findByRole("alert")).textContent).toContain("closed already");
    expect(bodyOf("PUT")).toEqual({ open: false });
    answers[PUT] = { ...PANEL, linkOpen: false };
    answers[`GET /api/editions/${EDITION.id}/panels`] = [{ ...PANEL, linkOpen: false }];
    await userEvent.click(screen.getByRole("button", { name: "Close it" }));
    expect(await screen.findByRole("button", { name: "Open it again" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Copy invitation" }).hasAttribute("disabled")).toBe(true);
  });

  it("makes personal links from pasted names, and says what of them cannot be read", async () => {
    const POST = `POST /api/panels/${PANEL.id}/voters`;
    const { bodyOf } = show([PANEL], { [POST]: { status: 201, body: PANEL } });
    await userEvent.click(await screen.findByRole("button", { name: "Personal links …" }));
    const names = screen.getByRole("textbox", { name: "Names" });
    await userEvent.type(names, 'Una{Enter}"Mac');
    expect(screen.getByText(/A quotation mark in line 2 is not closed/)).toBeTruthy();
    await userEvent.type(names, 'Leod, Callum"');
    expect(screen.queryByText(/is not closed/)).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Make 2 links" }));
    await waitFor(() => expect(bodyOf("POST")).toEqual({ names: ["Una", "MacLeod, Callum"] }));
  });

  it("makes a panel of a part of the edition, and points at what is missing in the form", async () => {
    const { bodyOf } = show([], { "POST /api/panels": { status: 201, body: PANEL } });
    expect(await screen.findByRole("heading", { name: "No panel yet" })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Invite a panel" }));
    await userEvent.click(await screen.findByRole("button", { name: ENTRANT.name }));
    await userEvent.click(screen.getByRole("button", { name: "Make the invitation" }));
    expect(await screen.findByText("give the panel a name")).toBeTruthy();
    expect(screen.getByText("choose at least two entrants")).toBeTruthy();
    await userEvent.click(within(screen.getByRole("group", { name: /Entrants/ })).getByRole("button", { name: "all" }));
    await userEvent.type(screen.getByRole("textbox", { name: "Name of the panel" }), "Friends");
    await userEvent.click(screen.getByRole("checkbox", { name: "Ask voters for reasons" }));
    await userEvent.selectOptions(screen.getByRole("combobox", { name: "Blank and crashed entries" }), "lose");
    await userEvent.click(screen.getByRole("button", { name: "Make the invitation" }));
    await waitFor(() =>
      expect(bodyOf("POST")).toMatchObject({
        editionId: EDITION.id,
        title: "Friends",
        quota: 20,
        asksReasons: false,
        brokenRule: "lose",
        entrantIds: null,
      }),
    );
  });

  it("asks what a panel puts against what, and places a newcomer among entrants alone", async () => {
    const { bodyOf } = show([], { "POST /api/panels": { status: 201, body: PANEL } });
    await screen.findByRole("heading", { name: "No panel yet" });
    await userEvent.click(screen.getByRole("button", { name: "Invite a panel" }));
    await userEvent.type(screen.getByLabelText("Name of the panel"), "Workshop");
    await userEvent.selectOptions(screen.getByLabelText("A newcomer to place"), ENTRANT.name);
    await userEvent.selectOptions(
      screen.getByLabelText("What is put against what"),
      "mended pages against first shots",
    );
    expect(screen.queryByLabelText("A newcomer to place")).toBeNull();
    const mends = screen.getByLabelText("After how many mends at most");
    await userEvent.clear(mends);
    await userEvent.type(mends, "2");
    await userEvent.click(screen.getByRole("button", { name: "Make the invitation" }));
    await waitFor(() => expect(bodyOf("POST")).toMatchObject({ contest: "rounds", step: 2, newcomerId: null }));
  });

  it("says of a panel that its contest is kept out of the ratings", async () => {
    show([{ ...PANEL, contest: "mended", step: 2 }]);
    expect(
      await screen.findByText(/On mended pages of all entrants, kept out of the ratings · after 2 mends at most/),
    ).toBeTruthy();
  });
});
