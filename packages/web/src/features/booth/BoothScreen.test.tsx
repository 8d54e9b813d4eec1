import type { BoothQueue, BoothState, Bout } from "@tourney/core/contract";
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Answers, problem, renderScreen, stubServer } from "../../../test-support/render-screen.js";
import { BoothScreen } from "./BoothScreen.js";

const PANEL = "p".repeat(24);
const STATE: BoothState = {
  panelTitle: "Friends of the museum",
  message: "",
  quota: 3,
  done: 0,
  known: true,
  isLead: false,
  closed: false,
  asksReasons: true,
  ownUrl: null,
  sample: false,
};

const bout = (ordinal: number, title: string): Bout => {
  const stage = (side: string) => `http://stage-${side}${ordinal}.localhost:4611/stage/x/page`;
  const urls = {
    leftUrl: stage("a"),
    rightUrl: stage("b"),
    leftRecordingUrl: stage("c"),
    rightRecordingUrl: stage("d"),
  };
  const prompt = {
    title,
    kind: "game" as const,
    summary: "Play it.",
    text: "Build it.",
    turns: [],
    motion: true,
    watchpoints: ["It works"],
    viewport: { width: 1280, height: 800 },
  };
  return {
    token: `${ordinal}`.repeat(24),
    ordinal,
    prompt,
    ...urls,
    leftNeeds: [],
    rightNeeds: ["Asks for a gamepad"],
  };
};
const [FIRST, SECOND, THIRD] = [bout(1, "Lock Keeper"), bout(2, "Lamp Watch"), bout(3, "Herring Drift")];
const queue = (done: number, bouts: Bout[]): BoothQueue => ({
  quota: 3,
  done,
  canTakeBack: done > 0,
  bouts,
  exhausted: false,
});
const BALLOT = `POST /api/booth/bouts/${FIRST.token}/ballot`;

function show(answers: Answers = {}) {
  const all: Answers = {
    [`GET /api/booth/${PANEL}`]: STATE,
    [`GET /api/booth/${PANEL}/bouts`]: queue(0, [FIRST, SECOND]),
    ...answers,
  };
  const requests = stubServer(all);
  renderScreen(<BoothScreen />, { path: "/booth/:panelToken", address: `/booth/${PANEL}` });
  return {
    answers: all,
    sent: (path: string) => requests.filter(({ method, path: own }) => `${method} ${own}` === path),
  };
}
const title = (name: string) => screen.findByRole("heading", { name });

beforeEach(() => window.localStorage.setItem("tourney-booth-introduced", "yes"));
afterEach(() => {
  window.localStorage.clear();
  vi.useRealTimers();
});

describe("the booth", () => {
  it("shows the next bout before the ballot is stored, and then what the server says comes after it", async () => {
    const { sent } = show({ [BALLOT]: { done: 1, quota: 3, queue: queue(1, [SECOND, THIRD]) } });
    await title("Lock Keeper");
    await userEvent.keyboard("2q{Enter}");
    await title("Lamp Watch");
    expect(sent(BALLOT)[0]!.body).toMatchObject({
      ...{ lean: -1, leftWorks: false, rightWorks: true },
      seenWith: { width: window.innerWidth, height: window.innerHeight, pointer: "none" },
    });
    expect(await screen.findByText("1 of 3")).toBeTruthy();
    await waitFor(() => expect(screen.getByRole("button", { name: /take back/ }).hasAttribute("disabled")).toBe(false));
  });

  it("says what a page asks a machine for, beside that page", async () => {
    show();
    await title("Lock Keeper");
    const [left, right] = [screen.getByRole("region", { name: "Left" }), screen.getByRole("region", { name: "Right" })];
    expect(within(right).getByText(/Asks for a gamepad/)).toBeTruthy();
    expect(within(left).queryByText(/Asks for/)).toBeNull();
  });

  it("keeps a ballot while the server is away, and sends it again until it is stored", async () => {
    const { answers, sent } = show();
    await title("Lock Keeper");
    await userEvent.keyboard("4{Enter}");
    expect(await screen.findByText(/Your ballot is not stored yet/)).toBeTruthy();
    await title("Lamp Watch");
    // The next one waits for it, and goes when it is through.
    await userEvent.keyboard("3{Enter}");
    expect(sent(`POST /api/booth/bouts/${SECOND.token}/ballot`)).toHaveLength(0);
    answers[BALLOT] = { done: 1, quota: 3, queue: queue(1, [SECOND, THIRD]) };
    answers[`POST /api/booth/bouts/${SECOND.token}/ballot`] = { done: 2, quota: 3, queue: queue(2, [THIRD]) };
    await userEvent.click(screen.getByRole("button", { name: "Send now" }));
    await waitFor(() => expect(screen.queryByText(/not stored yet/)).toBeNull());
    await title("Herring Drift");
    const second = sent(`POST /api/booth/bouts/${SECOND.token}/ballot`);
    expect(second.map(({ body }) => (body as { lean: number }).lean)).toEqual([0]);
    expect(sent(BALLOT).map(({ body }) => (body as { lean: number }).lean)).toEqual([1, 1]);
  });

  describe("while a ballot is on its way", () => {
    const TAKE_BACK = `DELETE /api/booth/${PANEL}/last-ballot`;
    const STORED = { done: 1, quota: 3, queue: queue(1, [SECOND, THIRD]) };
    const SECOND_BALLOT = `POST /api/booth/bouts/${SECOND.token}/ballot`;

    /** Votes on the first bout; the server answers when `store` is called. */
    async function castFirst() {
      let store: (receipt: unknown) => void = () => undefined;
      const { sent } = show({
        [BALLOT]: new Promise((resolve) => (store = resolve)),
        [TAKE_BACK]: { done: 0, quota: 3, queue: queue(0, [FIRST, SECOND]) },
      });
      await title("Lock Keeper");
      await userEvent.keyboard("2{Enter}");
      await title("Lamp Watch");
      return { sent, store };
    }

    it("takes it back once it is stored, and nothing else is done until then", async () => {
      const { sent, store } = await castFirst();
      await userEvent.keyboard("{Backspace}");
      expect(screen.getByRole("button", { name: /take back/ }).hasAttribute("disabled")).toBe(true);
      await userEvent.keyboard("4{Enter}{Backspace}");
      expect(sent(TAKE_BACK)).toHaveLength(0);
      store(STORED);
      await title("Lock Keeper");
      expect(await screen.findByText("0 of 3")).toBeTruthy();
      expect(sent(TAKE_BACK)).toHaveLength(1);
      expect(sent(SECOND_BALLOT)).toHaveLength(0);
    });

    it("takes none back where it was refused", async () => {
      const { sent, store } = await castFirst();
      await userEvent.keyboard("{Backspace}");
      store(problem(409, "This bout has been answered already."));
      expect((await screen.findByRole("alert")).textContent).toContain("answered already");
      await title("Lock Keeper");
      await waitFor(() => expect(screen.getByText("0 of 3")).toBeTruthy());
      expect(sent(TAKE_BACK)).toHaveLength(0);
    });

    it("forgets the next one instead, where that was confirmed meanwhile", async () => {
      const { sent, store } = await castFirst();
      await userEvent.keyboard("4{Enter}{Backspace}");
      store(STORED);
      await waitFor(() =>
        expect(screen.getByRole("button", { name: "S pass over" }).hasAttribute("disabled")).toBe(false),
      );
      expect([sent(SECOND_BALLOT).length, sent(TAKE_BACK).length]).toEqual([0, 0]);
      await title("Lamp Watch");
    });
  });

  it("says why a ballot was refused, and goes on with what the server has", async () => {
    const { answers } = show({ [BALLOT]: problem(409, "This bout has been answered already.") });
    await title("Lock Keeper");
    answers[`GET /api/booth/${PANEL}/bouts`] = queue(2, [THIRD]);
    await userEvent.keyboard("1{Enter}");
    await title("Herring Drift");
    expect(screen.getByRole("alert").textContent).toContain("answered already");
  });

  it("does nothing on Enter while no notch is chosen, and asks why before it passes over", async () => {
    const SKIP = `POST /api/booth/bouts/${FIRST.token}/skip`;
    const { sent } = show({ [SKIP]: { done: 0, quota: 3, queue: queue(0, [SECOND, THIRD]) } });
    await title("Lock Keeper");
    await userEvent.keyboard("{Enter}");
    expect(sent(BALLOT)).toHaveLength(0);
    await userEvent.keyboard("s");
    expect(screen.getByRole("group", { name: "Pass over because" })).toBeTruthy();
    await userEvent.keyboard("1");
    await title("Lamp Watch");
    expect(sent(SKIP)[0]!.body).toEqual({ reason: "cannot judge" });
  });

  it("introduces itself once, and what is tried there does not count", async () => {
    window.localStorage.clear();
    const { sent } = show();
    expect(await screen.findByRole("heading", { name: "How it works" })).toBeTruthy();
    await userEvent.keyboard("5{Enter}");
    expect(screen.getByText("That is all there is to it.")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Start voting" }));
    await title("Lock Keeper");
    expect(sent(BALLOT)).toHaveLength(0);
    expect(window.localStorage.getItem("tourney-booth-introduced")).toBe("yes");
  });

  it("ends with a thank-you, and says that a closed panel is closed", async () => {
    show({ [`GET /api/booth/${PANEL}/bouts`]: queue(3, []) });
    expect(await screen.findByText("All 3 are done. You can close this page.")).toBeTruthy();
  });
});
