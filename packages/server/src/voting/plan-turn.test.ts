import { BoutTally, type Candidate, Exhibition } from "@tourney/core/pairing";
import { createRandom } from "@tourney/core/random";
import { describe, expect, it } from "vitest";
import type { PanelSituation } from "./bout-situations.js";
import { countDone, listOpen, planTurn, withdraw } from "./plan-turn.js";
import type { TurnBout } from "./turn.js";

const entry = (promptId: string, competitorId: string): Candidate => ({
  entryId: `${promptId}-${competitorId}`,
  promptId,
  competitorId,
});

function situation({ losing = [] as string[], entrants = 3, prompts = 1 } = {}): PanelSituation {
  const candidates = Array.from({ length: prompts }, (_, p) =>
    Array.from({ length: entrants }, (_, e) => entry(`p${p}`, `e${e}`)),
  ).flat();
  return {
    exhibition: new Exhibition(candidates),
    tally: new BoutTally(),
    // Nothing is known of anyone: the least compared is chosen.
    knowledge: null,
    isShown: () => true,
    losesUnseen: (entryId) => losing.includes(entryId),
    needsOf: () => [],
    prompts: new Map(),
  };
}

let made = 0;
const bout = (left: string, right: string, more: Partial<TurnBout> = {}): TurnBout => {
  made += 1;
  const tokens = { token: `t${made}`, leftToken: `l${made}`, rightToken: `r${made}` };
  const sides = { left: entry("p0", left), right: entry("p0", right) };
  const state = "open" as const;
  return {
    id: `b${made}`,
    ordinal: made,
    ...tokens,
    promptId: "p0",
    ...sides,
    isRepeat: false,
    isAutomatic: false,
    state,
    ...more,
  };
};
const plan = (quota: number, bouts: TurnBout[], shared: PanelSituation, seed = 1) =>
  planTurn({ quota, bouts }, shared, createRandom(seed));

describe("planTurn", () => {
  it("issues two bouts to a newcomer, one to whoever has one open, none to whoever has two", () => {
    const shared = situation({ prompts: 4 });
    const { issue, exhausted } = plan(10, [], shared);
    expect(issue.map(({ ordinal }) => ordinal)).toEqual([1, 2]);
    expect(exhausted).toBe(false);
    expect(
      new Set(issue.flatMap(({ id, token, leftToken, rightToken }) => [id, token, leftToken, rightToken])).size,
    ).toBe(8);
    expect(plan(10, [bout("e0", "e1", { ordinal: 7 })], shared).issue.map(({ ordinal }) => ordinal)).toEqual([8]);
    expect(plan(10, [bout("e0", "e1"), bout("e0", "e2")], shared).issue).toEqual([]);
  });

  it("issues no more than the quota leaves", () => {
    const shared = situation({ prompts: 4 });
    const done = bout("e0", "e1", { state: "answered" });
    expect(plan(2, [done], shared).issue).toHaveLength(1);
    expect(plan(1, [done], shared).issue).toEqual([]);
  });

  it("counts neither what was decided unseen nor what was passed over, and shows neither again", () => {
    const shared = situation();
    const bouts = [
      bout("e0", "e1", { state: "answered", isAutomatic: true }),
      bout("e0", "e2", { state: "skipped" }),
      bout("e2", "e1", { state: "returned" }),
    ];
    expect(countDone(bouts)).toBe(0);
    expect(listOpen(bouts)).toEqual([]);
    for (let seed = 0; seed < 40; seed++) {
      const { issue } = plan(9, bouts, shared, seed);
      for (const { left, right, isRepeat } of issue)
        expect([isRepeat, left.competitorId, right.competitorId].join()).toMatch(/^true,e[12],e[12]$/);
    }
  });

  it("decides at once what a broken entry loses unseen, and goes on to what can be shown", () => {
    const shared = situation({ losing: ["p0-e0"] });
    const { issue, exhausted } = plan(9, [], shared);
    const unseen = issue.filter(({ losesUnseen }) => losesUnseen !== null);
    expect(unseen).toHaveLength(2);
    for (const { left, losesUnseen } of unseen) expect(losesUnseen).toBe(left.competitorId === "e0" ? "left" : "right");
    expect(issue.filter(({ losesUnseen }) => losesUnseen === null)).toHaveLength(1);
    expect(exhausted).toBe(true);
    expect(issue.map(({ ordinal }) => ordinal)).toEqual([1, 2, 3]);
  });

  it("notes what it chose for whoever is next", () => {
    const shared = situation();
    const { issue } = plan(2, [], shared);
    for (const { left, right } of issue) expect(shared.tally.ofPair(left.competitorId, right.competitorId)).toBe(1);
  });

  it("gives a bout back whose entry is not to be shown any more, but no answer to it", () => {
    const bouts = [bout("e0", "e1"), bout("e1", "e2"), bout("e0", "e2", { state: "answered" })];
    const left = withdraw(bouts, { isShown: (entryId) => entryId !== "p0-e0" });
    expect(left.map(({ state }) => state)).toEqual(["returned", "open", "answered"]);
    expect(withdraw(bouts, { isShown: () => true })).toEqual(bouts);
  });
});
