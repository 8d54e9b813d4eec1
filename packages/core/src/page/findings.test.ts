import { describe, expect, it } from "vitest";
import type { LogLine } from "../contract/index.js";
import { findFindings, type Observed } from "./findings.js";

const SOUND: Observed = {
  outcome: "ok",
  outcomeDetail: null,
  frameTimesMs: [33, 3000, 6000],
  content: [0.3, 0.3, 0.3],
  motion: [0.01, 0.02],
  log: [],
  blocked: [],
  motionExpected: true,
};
const rulesOf = (changes: Partial<Observed>) => findFindings({ ...SOUND, ...changes }).map(({ rule }) => rule);
const exception = (text: string): LogLine => ({
  atMs: 700,
  level: "error",
  text,
  source: "exception",
  where: "index.html:3",
});

describe("findFindings", () => {
  it("finds nothing in a sound clip", () => {
    expect(rulesOf({})).toEqual([]);
  });
  it("calls a page blank only when every frame is", () => {
    expect(rulesOf({ content: [0, 0, 0], motion: [0, 0] })).toEqual(["blank"]);
    expect(rulesOf({ content: [0, 0, 0.1] })).toEqual([]);
  });
  it("calls a page still only where motion is expected", () => {
    expect(rulesOf({ motion: [0, 0.00001] })).toEqual(["still"]);
    expect(rulesOf({ motion: [0, 0], motionExpected: false })).toEqual([]);
  });
  it("gathers one exception thrown many times into one finding with its place", () => {
    const [first, ...rest] = findFindings({
      ...SOUND,
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
  it("reports each address asked for once, and what ended the page first", () => {
    const blocked = [
      { url: "http://a/1", type: "Fetch" },
      { url: "http://a/1", type: "Fetch" },
      { url: "http://a/2", type: "Image" },
    ];
    expect(rulesOf({ blocked, outcome: "hung" })).toEqual(["hung", "blocked_request", "blocked_request"]);
  });
});
