import { type EntryDetail, Recording } from "@tourney/core/contract";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { ENTRY, PROMPT } from "../../../test-support/fixtures.js";
import { problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { describeRound } from "./EntryRounds.js";
import { EntryScreen } from "./EntryScreen.js";

const OTHER = "00000000-0000-4000-8000-000000000032";

function show(more: Partial<EntryDetail> = {}, answers: Record<string, unknown> = {}, tab = "findings") {
  const requests = stubServer({ [`GET /api/entries/${ENTRY.id}`]: { ...ENTRY, ...more }, ...answers });
  const { router } = renderScreen(<EntryScreen />, {
    path: "/entries/:entryId",
    address: `/entries/${ENTRY.id}?view=recording&tab=${tab}`,
  });
  return { router, posted: () => requests.filter(({ method }) => method === "POST") };
}

const withRecording = (more: object): EntryDetail["render"] => ({
  ...ENTRY.render!,
  recording: Recording.parse({ ...ENTRY.render!.recording, ...more }),
});

describe("an entry", () => {
  it("says who made it, what it cost and what was found", async () => {
    show();
    expect(await screen.findByRole("heading", { name: "Locks" })).toBeTruthy();
    expect(screen.getByText("$0.0099")).toBeTruthy();
    const panel = within(screen.getByRole("tabpanel"));
    expect(panel.getByText("TypeError: x is undefined")).toBeTruthy();
    expect(panel.getByText("index.html:3")).toBeTruthy();
    expect(panel.getByText(/sandbox on, unprivileged user, empty network namespace/)).toBeTruthy();
  });

  it("counts the controls that answer, and names those that do not", async () => {
    const step = { atMs: 700, input: { atMs: 700, key: "Space", holdMs: 0 }, origin: "default", effect: "changed" };
    const controls = [
      { control: "key Space", state: "answers" },
      { control: "button “Stop”", state: "dead" },
      { control: "slider “Speed”", state: "not_tried" },
    ];
    const steps = [{ ...step, control: null, before: null, after: null }];
    show({ render: withRecording({ steps, controls }) }, {}, "inputs");
    expect(await screen.findByText("Controls: 1 of 3 answer, 1 not tried")).toBeTruthy();
    expect(screen.getByText("No answer: button “Stop”")).toBeTruthy();
    expect(screen.getByText("Not tried: slider “Speed”")).toBeTruthy();
  });

  it("shows a tall page whole, with its parts to go to, by its address", async () => {
    const whole = {
      file: "w.webp",
      thumbnail: "t.webp",
      width: 1280,
      height: 12000,
      pageHeight: 14000,
      sections: [
        { role: "navigation", name: "", top: 0, height: 60 },
        { role: "section", name: "Keels", top: 60, height: 900 },
      ],
    };
    const { router } = show({ render: withRecording({ whole }) });
    await userEvent.click(await screen.findByRole("button", { name: "Whole page" }));
    expect(screen.getByRole("img", { name: /from top to bottom/ })).toBeTruthy();
    expect(router.state.location.search).toContain("view=whole");
    const parts = within(screen.getByRole("list", { name: "Parts of the page" }));
    expect(parts.getAllByRole("button").map(({ textContent }) => textContent)).toEqual(["navigation", "Keels"]);
    expect(screen.getByText(/the picture shows the first 12000 px/)).toBeTruthy();
  });

  it("turns the load up when it is asked to, and shows what that came to", async () => {
    const { posted } = show({}, { [`POST /api/entries/${ENTRY.id}/render`]: { renderId: OTHER } }, "load");
    await userEvent.click(await screen.findByRole("button", { name: "Turn its load up" }));
    await waitFor(() => expect(posted()[0]?.body).toEqual({ stress: true }));
  });

  it("tells what each level of load took, and how it was left alone", async () => {
    const took = { frameMs: 12, heapMb: 5, exceptions: 0 };
    const levels = [
      { load: "0", ...took },
      { load: "500", ...took, frameMs: 70, exceptions: 3 },
    ];
    const soak = { samples: [{ atMs: 15_000, ...took, heapMb: 40 }], wrongWords: ["NaN"], isEmpty: false };
    const stress = { control: "slider “Herring”", levels, isCutShort: false, soak };
    show({ render: withRecording({ stress }) }, {}, "load");
    expect(await screen.findByRole("heading", { name: "Turned up: slider “Herring”" })).toBeTruthy();
    expect(screen.getByRole("row", { name: "500 70 ms 5.0 MB 3" })).toBeTruthy();
    expect(screen.getByRole("row", { name: "15 s 40 MB 12.0 ms 0" })).toBeTruthy();
    expect(screen.getByText("It shows NaN then.")).toBeTruthy();
  });

  it("says of a finding what it follows from, where that is no fault of the page", async () => {
    const blank = { rule: "blank", severity: "note", message: "Blank for 6 s", atMs: 0, evidence: "12 frames" };
    show({ render: withRecording({ findings: [{ ...blank, followsFrom: "knots is not on the shelf" }] }) });
    expect(await screen.findByText(/not held against the page: knots is not on the shelf\.$/)).toBeTruthy();
  });

  it("shows each input with the page before and after it, and whether it answered", async () => {
    const input = { atMs: 700, key: "Space", holdMs: 0 };
    const step = {
      atMs: 700,
      input,
      origin: "prompt",
      effect: "none",
      control: null,
      before: "b.webp",
      after: "a.webp",
    };
    show(
      {
        render: withRecording({
          steps: [
            step,
            { ...step, effect: "changed", control: "button “Go”", input: { atMs: 900, click: { name: "Go" } } },
          ],
        }),
      },
      {},
      "inputs",
    );
    expect(await screen.findByText("Key Space")).toBeTruthy();
    expect(screen.getByText(/Nothing happened/)).toBeTruthy();
    expect(screen.getByText("Button “Go”")).toBeTruthy();
    expect(screen.getAllByRole("img", { name: "The page after" })[0]!.getAttribute("src")).toBe("/api/blobs/a.webp");
  });

  it("tells what a recording is worth: whether it is stale, the same again, and what it got instead of what it asked for", async () => {
    show({
      render: withRecording({
        rendererVersion: "1",
        stability: { recordings: 2, isStable: false, differing: ["frame at 2.0 s"] },
        realTime: { seconds: 1, frames: 30, p50Ms: 33.3, p95Ms: 41 },
        substitutions: [{ url: "https://host/x", asked: "knots 3.1", served: "knots 3.2.0", exact: false }],
      }),
    });
    expect(await screen.findByText(/1: stale, the present one is/)).toBeTruthy();
    expect(screen.getByText(/not the same in 2 recordings: frame at 2.0 s/)).toBeTruthy();
    expect(screen.getByText(/30 frames a second/)).toBeTruthy();
    expect(screen.getByText("asked for knots 3.1, got knots 3.2.0")).toBeTruthy();
    expect(screen.getByRole("link", { name: "Download the clip" }).getAttribute("href")).toMatch(/clip\.webp$/);
  });

  it("goes through the strip frame by frame, and shows it at other sizes", async () => {
    show();
    const strip = within(await screen.findByRole("list", { name: "Filmstrip" }));
    await userEvent.click(strip.getByRole("button", { name: "Frame at 6.0 s" }));
    expect(screen.getByRole("img", { name: "Locks at 6.0 s" }).getAttribute("src")).toBe("/api/blobs/f1.webp");
    expect(screen.getByRole("img", { name: "At 390 × 844 px" })).toBeTruthy();
  });

  it("tells how the artifact was taken out, and keeps the tab in the address", async () => {
    const { router } = show();
    await userEvent.click(await screen.findByRole("tab", { name: /^Code/ }));
    expect(screen.getByText(/it leaves out parts of another version/)).toBeTruthy();
    expect(screen.getByText(/it is the only complete page/)).toBeTruthy();
    expect(new URLSearchParams(router.state.location.search).get("tab")).toBe("code");
  });

  it("shows the answer as it came and the log as it was written", async () => {
    show({}, {}, "answer");
    expect((await screen.findByRole("tabpanel")).textContent).toContain("Here it is.");
    await userEvent.click(screen.getByRole("tab", { name: "Log 1" }));
    expect(screen.getByText(/ready/)).toBeTruthy();
  });

  it("says why there is nothing to see", async () => {
    show({ verdict: "refusal", kind: "none", entryPath: null, files: [], fileTexts: [], liveUrl: null, render: null });
    expect(await screen.findByText("Declined to answer")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Record again" }).disabled).toBe(true);
  });

  it("says what failed and tries again", async () => {
    const answers: Record<string, unknown> = {
      [`GET /api/entries/${ENTRY.id}`]: problem(500, "The database is away."),
    };
    show({}, answers);
    expect((await screen.findByRole("alert")).textContent).toContain("The database is away.");
  });
});

describe("what the lead does with an entry", () => {
  it("sends one correction to all entrants of the prompt", async () => {
    const { posted } = show({}, { [`POST /api/prompts/${PROMPT.id}/corrections`]: { sent: 8 } });
    await userEvent.click(await screen.findByRole("button", { name: "Correct…" }));
    const send = screen.getByRole<HTMLButtonElement>("button", { name: "Send to all" });
    expect(send.disabled).toBe(true);
    await userEvent.type(screen.getByRole("textbox", { name: "The correction" }), "Now at night.");
    await userEvent.click(send);
    await waitFor(() => expect(posted()[0]?.body).toEqual({ text: "Now at night.", take: 1 }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });

  it("mends by hand, sending only the files that were changed", async () => {
    const { posted, router } = show({}, { [`POST /api/entries/${ENTRY.id}/edits`]: { entryId: OTHER } }, "code");
    await userEvent.click(await screen.findByRole("button", { name: "Mend by hand…" }));
    const file = screen.getByRole("textbox", { name: "index.html" });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Keep" }).disabled).toBe(true);
    await userEvent.clear(file);
    await userEvent.type(file, "<p>better");
    await userEvent.click(screen.getByRole("button", { name: "Keep 1 changed file" }));
    await waitFor(() => expect(posted()[0]?.body).toEqual({ files: [{ path: "index.html", text: "<p>better" }] }));
    await waitFor(() => expect(router.state.location.pathname).toBe(`/entries/${OTHER}`));
  });

  it("keeps what was typed when it cannot be sent", async () => {
    show({}, { [`POST /api/prompts/${PROMPT.id}/corrections`]: problem(409, "Nobody has answered it.") });
    await userEvent.click(await screen.findByRole("button", { name: "Correct…" }));
    await userEvent.type(screen.getByRole("textbox", { name: "The correction" }), "Now at night.");
    await userEvent.click(screen.getByRole("button", { name: "Send to all" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Nobody has answered it.");
    expect(screen.getByRole<HTMLTextAreaElement>("textbox", { name: "The correction" }).value).toBe("Now at night.");
  });

  it("goes between rounds, each in words", async () => {
    const first = ENTRY.rounds[0]!;
    const mended = {
      ...first,
      entryId: OTHER,
      round: 1,
      mends: 1,
      errors: 0,
      followUp: { kind: "mend" as const, text: "x" },
    };
    show({ rounds: [first, mended, { ...mended, entryId: null, round: 2, mends: 2, state: "running" }] });
    const rounds = within(await screen.findByRole("navigation", { name: "Rounds" }));
    expect(rounds.getByRole("link", { name: "first shot · 1 error" }).getAttribute("aria-current")).toBe("true");
    expect(rounds.getByRole("link", { name: "mend 1" }).getAttribute("href")).toBe(`/entries/${OTHER}`);
    expect(rounds.getByText("mend 2: running")).toBeTruthy();
    expect(describeRound({ ...mended, handMended: true, turn: 2 }, true)).toBe("turn 2, mend 1, mended by hand");
    const correction = { kind: "correction" as const, text: "x", toSome: true };
    expect(describeRound({ ...first, round: 2, mends: 1, corrections: 1, followUp: correction }, false)).toBe(
      "mend 1, correction 1 (to some)",
    );
  });
});
