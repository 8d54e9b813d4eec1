import { describe, expect, it } from "vitest";
import type { Aim } from "./dispatch-input.js";
import { judgeSteps, keepSteps } from "./judge-steps.js";
import type { PageState, PlayedStep } from "./clip.js";
import { planSteps } from "./timeline.js";

/** A look at a page: equal pictures are equal texts, so any text will do for one. */
const look = (png: string, dom = "<p>"): PageState => ({ png, dom });

/** Presses of keys, one a second, with what the page was like around each. */
function press(
  ...looks: { key?: string; quiet: PageState; before: PageState; after: PageState | null }[]
): PlayedStep[] {
  const planned = planSteps(
    looks.map(({ key = "Space" }, index) => ({ atMs: 1000 * (index + 1), key, holdMs: 0 })),
    "prompt",
    600,
  );
  return planned.map((step, index) => ({ ...step, wasFound: true, aim: null, ...looks[index]! }));
}

/** Stands in for the recorder: gives its clips in turn and keeps what it was asked for. */
function recorder(...clips: (PageState | null)[][][]) {
  const asked: Parameters<Parameters<typeof judgeSteps>[1]>[0][] = [];
  const record: Parameters<typeof judgeSteps>[1] = (clip) => {
    asked.push(clip);
    const looks = clips.shift();
    if (looks === undefined) throw new Error("No further clip was expected");
    const steps = clip.steps!.map((step, index) => {
      const [before = null, after = null] = looks[index] ?? [];
      return { ...(step as PlayedStep), before, after };
    });
    return Promise.resolve({ steps });
  };
  return { asked, record };
}
const nothing = recorder();

describe("an input is judged", () => {
  it("by the page before and after, where the page stands still", async () => {
    const steps = press(
      { quiet: look("a"), before: look("a"), after: look("b") },
      { quiet: look("b"), before: look("b"), after: look("b") },
      { quiet: look("b"), before: look("b"), after: look("b", "<p>new") },
    );
    expect(await judgeSteps({ steps, outcome: "ok", answersMs: [] }, nothing.record)).toEqual([
      "changed",
      "none",
      "changed",
    ]);
    expect(nothing.asked).toEqual([]);
  });

  it("against a clip in which the page is told of no input, where it moves by itself", async () => {
    const steps = press(
      { quiet: look("a"), before: look("b"), after: look("c") },
      { key: "KeyB", quiet: look("d"), before: look("e"), after: look("f") },
    );
    const { asked, record } = recorder([
      [look("b"), look("c")],
      [look("e"), look("other")],
    ]);
    expect(await judgeSteps({ steps, outcome: "ok", answersMs: [] }, record)).toEqual(["none", "changed"]);
    expect(asked).toHaveLength(1);
    expect(asked[0]!.muted).toEqual(
      steps.map(({ startMs, endMs }) => ({ fromMs: startMs, toMs: endMs + 40, isMove: false })),
    );
  });

  it("against a clip without it alone, once an earlier input had its effect", async () => {
    const steps = press(
      { key: "KeyA", quiet: look("a"), before: look("b"), after: look("c") },
      { key: "KeyB", quiet: look("d"), before: look("e"), after: look("f") },
    );
    const control = [
      [look("b"), look("unlike")],
      [look("unlike 2"), look("unlike 3")],
    ];
    const without = [[], [look("e"), look("f")]];
    const { asked, record } = recorder(control, without);
    expect(await judgeSteps({ steps, outcome: "ok", answersMs: [] }, record)).toEqual(["changed", "none"]);
    expect(asked[1]).toMatchObject({ untilFrame: steps[1]!.afterFrame });
    expect(asked[1]!.muted).toHaveLength(1);
  });

  it("by at most two clips of its own kind of clip, the rest stays open", async () => {
    const moving = ["KeyA", "KeyB", "KeyC", "KeyD"].map((key, i) => ({
      key,
      quiet: look(`${i}q`),
      before: look(`${i}b`),
      after: look(`${i}a`),
    }));
    const steps = press(...moving);
    const unlike = steps.map((_, i) => [look(i === 0 ? "0b" : `x${i}`), look(`y${i}`)]);
    const without = (index: number) => steps.map((_, i) => (i === index ? [null, look(`${i}a`)] : []));
    const { asked, record } = recorder(unlike, without(1), without(2));
    expect(await judgeSteps({ steps, outcome: "ok", answersMs: [] }, record)).toEqual([
      "changed",
      "none",
      "none",
      null,
    ]);
    expect(asked).toHaveLength(3);
  });

  it("not at all when nothing was there to aim at, or the page ended before", async () => {
    const [gone, late] = press(
      { quiet: look("a"), before: look("a"), after: look("b") },
      { quiet: look("a"), before: look("a"), after: null },
    );
    const steps = [{ ...gone!, wasFound: false }, late!];
    expect(await judgeSteps({ steps, outcome: "hung", answersMs: [] }, nothing.record)).toEqual([
      "not_found",
      "not_judged",
    ]);
  });
});

describe("the control clip", () => {
  it("may end as soon as it and the clip go apart", async () => {
    const steps = press({ quiet: look("a"), before: look("b"), after: look("c") });
    const { asked, record } = recorder([[look("b"), look("c")]]);
    await judgeSteps({ steps, outcome: "ok", answersMs: [] }, record);
    const { isEnough } = asked[0]!;
    expect(isEnough!({ ...steps[0]!, after: look("c") }, 0)).toBe(false);
    expect(isEnough!({ ...steps[0]!, after: look("d") }, 0)).toBe(true);
    expect(isEnough!({ ...steps[0]!, after: look("c", "<b>") }, 0)).toBe(true);
  });
});

describe("the steps that are kept", () => {
  it("name the control and keep equal pictures once", async () => {
    const onePixel = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGP4z8AAAAMBAQDJ/pLvAAAAAElFTkSuQmCC";
    const [step] = press({ quiet: look(onePixel), before: look(onePixel), after: look(onePixel) });
    const aim: Aim = { point: { x: 0, y: 0 }, control: "button “Go”", box: { left: 0, top: 0, right: 1, bottom: 1 } };
    const kept: string[] = [];
    const keep = (_webp: Buffer, name: string) => {
      kept.push(name);
      return Promise.resolve(`${name}.webp`);
    };
    expect(await keepSteps([{ ...step!, aim }], ["none"], keep)).toMatchObject([
      {
        atMs: 1000,
        effect: "none",
        control: "button “Go”",
        before: "step-00-before.webp",
        after: "step-00-before.webp",
      },
    ]);
    expect(kept).toEqual(["step-00-before"]);
  });
});
