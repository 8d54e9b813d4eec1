import { describe, expect, it } from "vitest";
import type { LogLine, StepResult } from "../contract/index.js";
import { findFindings } from "./findings.js";
import type { Layout, Observed } from "./observed.js";

const LAYOUT: Layout = {
  pageWidth: 1280,
  pageHeight: 800,
  viewWidth: 1280,
  viewHeight: 800,
  canScrollSideways: true,
  canScrollDown: true,
  beyond: [],
  clipped: [],
  brokenImages: [],
  wrongWords: [],
  hasText: true,
  depth: 4,
};
const SOUND: Observed = {
  outcome: "ok",
  outcomeDetail: null,
  hungIn: null,
  kind: "game",
  motionExpected: true,
  frameTimesMs: [33, 1200, 2400, 3600, 4800, 6000],
  content: [0.3, 0.3, 0.3, 0.3, 0.3, 0.3],
  motion: [0.01, 0.02, 0.02, 0.02, 0.02],
  log: [],
  blocked: [],
  missing: [],
  dialogs: [],
  popups: [],
  downloads: [],
  layout: LAYOUT,
  accessibility: [],
  steps: [],
  controls: null,
  needs: [],
  stability: null,
  realTime: null,
  stress: null,
};
const find = (changes: Partial<Observed>) => findFindings({ ...SOUND, ...changes });
const rulesOf = (changes: Partial<Observed>) => find(changes).map(({ rule }) => rule);
const gravity = (changes: Partial<Observed>) => find(changes).map(({ rule, severity }) => `${rule} ${severity}`);
const exception = (text: string, atMs = 700): LogLine => ({
  atMs,
  level: "error",
  text,
  source: "exception",
  where: "index.html:3",
});
const step = (effect: StepResult["effect"], key: string, more: Partial<StepResult> = {}) => ({
  atMs: 500,
  input: { atMs: 500, key, holdMs: 0 },
  effect,
  control: null,
  origin: "prompt" as const,
  ...more,
});

describe("findFindings", () => {
  it("finds nothing in a sound clip", () => {
    expect(rulesOf({})).toEqual([]);
    expect(rulesOf({ layout: null, accessibility: null })).toEqual([]);
  });
  it("calls a page blank only when every frame is, and it has no small text", () => {
    const none = [0, 0, 0, 0, 0, 0];
    expect(rulesOf({ content: none, motion: none.slice(1) })).toEqual(["blank"]);
    expect(rulesOf({ content: [0, 0, 0, 0, 0, 0.1] })).toEqual([]);
    expect(rulesOf({ content: none.map(() => 0.0001) })).toEqual([]);
  });
  it("calls a page still only where motion is expected", () => {
    const motion = [0, 0.00001, 0, 0, 0];
    expect(rulesOf({ motion })).toEqual(["still"]);
    expect(rulesOf({ motion, motionExpected: false })).toEqual([]);
  });
  it("gathers one exception thrown many times into one finding with its place", () => {
    const [first, ...rest] = find({
      log: [exception("TypeError: a\n  at b"), exception("TypeError: a\n  at b")],
    });
    expect(rest).toEqual([]);
    expect(first).toMatchObject({
      rule: "exception",
      message: "TypeError: a",
      evidence: "index.html:3, 2 times",
      atMs: 700,
    });
  });
  it("does not take an error that the page prints for one it threw", () => {
    expect(rulesOf({ log: [{ ...exception("Oh"), source: "console" }] })).toEqual([]);
  });
  it("reports each address asked for once, what ended the page first, and a library with how to add it", () => {
    const blocked = [
      { url: "http://a/1", type: "Fetch", library: null },
      { url: "http://a/1", type: "Fetch", library: null },
      { url: "http://a/2", type: "Script", library: "knots 3.1" },
    ];
    const found = find({ blocked, outcome: "hung", hungIn: "timer" });
    expect(found.map(({ rule }) => rule)).toEqual(["hung", "blocked_request", "library_missing"]);
    expect(found[2]!.evidence).toContain("./tourney shelf add knots@3.1");
  });
  it.each([
    ["memory", "crashed"],
    ["crashed", "crashed"],
    ["hung", "hung"],
    ["navigated", "navigated"],
  ] as const)("reports the outcome %s as %s, and judges no controls then", (outcome, rule) => {
    expect(rulesOf({ outcome, steps: [step("none", "a"), step("none", "b")] })).toEqual([rule]);
  });
  it("tells windows of every kind that a page opens", () => {
    expect(
      rulesOf({
        dialogs: [{ type: "alert", message: "Hello", atMs: 10, isAnswer: false }],
        popups: [{ url: "http://a/", atMs: 20, isAnswer: false }],
        downloads: ["a file"],
      }),
    ).toEqual(["dialog", "popup", "popup"]);
  });
  it("names what a page asks of itself and does not bring, and pictures of its own that cannot be read", () => {
    const found = find({
      missing: ["img/boat.png"],
      layout: { ...LAYOUT, brokenImages: ["http://entry.localhost/img/boat.png", "data:image/png;base64,AAAA"] },
    });
    expect(found.map(({ evidence }) => evidence)).toEqual(["img/boat.png", "data:image/png;base64,AAAA"]);
  });
  it("notes slow frames only where motion is expected", () => {
    const realTime = { seconds: 1.5, frames: 30, p50Ms: 50, p95Ms: 80 };
    expect(rulesOf({ realTime })).toEqual(["slow_frames"]);
    expect(rulesOf({ realTime, motionExpected: false })).toEqual([]);
    expect(rulesOf({ realTime: { ...realTime, p50Ms: 16.7 } })).toEqual([]);
  });
  it("says what differed when a page was recorded again", () => {
    const stability = { recordings: 2, isStable: false, differing: ["frame at 2.0 s", "log"] };
    expect(find({ stability })[0]).toMatchObject({ rule: "unstable", evidence: "frame at 2.0 s, log" });
    expect(rulesOf({ stability: { ...stability, isStable: true } })).toEqual([]);
  });
});

describe("dead controls", () => {
  it("are those that never answered; one that answered once is alive", () => {
    const steps = [step("none", "ArrowUp"), step("changed", "Space"), step("none", "Space"), step("not_judged", "x")];
    expect(find({ steps }).map(({ message }) => message)).toEqual(["Key ArrowUp does nothing"]);
  });
  it("are one grave finding when nothing answers", () => {
    expect(gravity({ steps: [step("none", "ArrowUp"), step("none", "Space")] })).toEqual(["dead_control error"]);
  });
  it("weigh less when a key was only tried on the off chance", () => {
    const tried = { origin: "default" as const };
    const steps = [step("none", "ArrowUp", tried), step("changed", "Space", tried)];
    expect(gravity({ steps })).toEqual(["dead_control note"]);
  });
  it("are called by the name that people are told", () => {
    const control = 'button "Plan"';
    const input = { atMs: 1, click: { name: "Plan" } };
    const steps = [step("none", "", { input, control }), step("changed", "Space")];
    expect(find({ steps })[0]!.message).toBe('Button "Plan" does nothing');
  });
});

describe("a game that nothing can be worked on", () => {
  it("is in error; a page of another kind need not be worked", () => {
    expect(gravity({ controls: [] })).toEqual(["dead_control error"]);
    expect(rulesOf({ controls: [], kind: "app" })).toEqual([]);
    expect(rulesOf({ controls: ["key a"] })).toEqual([]);
  });
});

describe("a page that needs what a recording has not", () => {
  it("says so, and weighs less where it can be worked otherwise", () => {
    expect(gravity({ needs: ["a camera"] })).toEqual(["needs_device warning"]);
    expect(gravity({ needs: ["a gamepad"], steps: [step("changed", "Space")] })).toEqual(["needs_device note"]);
  });
});

describe("going wrong", () => {
  it("is when the picture empties at the end, not when it is empty at first or fades once", () => {
    expect(rulesOf({ content: [0.3, 0.3, 0.3, 0.3, 0.001, 0] })).toEqual(["goes_wrong"]);
    expect(rulesOf({ content: [0, 0, 0.3, 0.3, 0.3, 0.3] })).toEqual([]);
    expect(rulesOf({ content: [0.3, 0.3, 0, 0, 0.3, 0.3] })).toEqual([]);
  });
  it("is when motion ends with an exception, not when it ends by itself", () => {
    const motion = [0.02, 0.02, 0, 0, 0];
    const found = rulesOf({ motion, log: [exception("TypeError: a", 2300)] });
    expect(found).toEqual(["exception", "goes_wrong"]);
    expect(rulesOf({ motion })).toEqual([]);
    expect(rulesOf({ motion, log: [exception("TypeError: a", 5900)] })).toEqual(["exception"]);
  });
  it("is when a slip stands in the text", () => {
    expect(find({ layout: { ...LAYOUT, wrongWords: ["NaN", "NaN"] } })[0]!.message).toBe("Shows NaN in its text");
  });
});

describe("layout", () => {
  it("is too wide when the page can be scrolled sideways to what is beyond", () => {
    expect(gravity({ layout: { ...LAYOUT, pageWidth: 1400 } })).toEqual(["overflow warning"]);
    expect(rulesOf({ layout: { ...LAYOUT, pageWidth: 1400, canScrollSideways: false } })).toEqual([]);
    expect(gravity({ layout: { ...LAYOUT, clipped: ["p hides 40 px of its text"] } })).toEqual(["overflow note"]);
  });
  it("is tall by the window, graver where all is meant to be seen at once", () => {
    const layout = { ...LAYOUT, pageHeight: 1500 };
    expect(gravity({ layout })).toEqual(["tall_page warning"]);
    expect(gravity({ layout, kind: "app" })).toEqual(["tall_page note"]);
    expect(rulesOf({ layout: { ...layout, canScrollDown: false } })).toEqual([]);
    expect(rulesOf({ layout: { ...LAYOUT, pageHeight: 900 } })).toEqual([]);
  });
  it("is hard to read by the worst contrast", () => {
    const issue = { id: "color-contrast", help: "", nodes: 2, target: "p", detail: "", neededContrast: 4.5 };
    expect(gravity({ accessibility: [{ ...issue, worstContrast: 1.8 }] })).toEqual(["unreadable_text warning"]);
    expect(gravity({ accessibility: [{ ...issue, worstContrast: 3.9 }] })).toEqual(["unreadable_text note"]);
  });
  it("keeps what cannot be used apart from what is only not told", () => {
    const issue = { nodes: 1, target: "button", detail: "<button>", worstContrast: null, neededContrast: null };
    const title = { ...issue, id: "document-title", help: "Pages must have a title" };
    expect(gravity({ accessibility: [title] })).toEqual(["accessibility note"]);
    const button = { ...issue, id: "button-name", help: "Buttons must have a name" };
    expect(gravity({ accessibility: [title, button] })).toEqual(["accessibility warning"]);
  });
});
