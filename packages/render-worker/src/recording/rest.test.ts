import { describe, expect, it } from "vitest";
import { PlayedWrongly } from "./pace.js";
import { type AskCalm, Rest } from "./rest.js";

interface Played {
  to?: number;
  input?: number;
  /** Frames that are looked at. */
  looked?: readonly number[];
  stride?: number;
  canLeaveOut?: boolean;
}

/** The frames that are drawn of a page, and what it was told. */
async function listDrawn(
  ask: (frame: number, hidden: readonly number[]) => number,
  { to = 60, input = -1, looked = [], stride = 1, canLeaveOut = true }: Played = {},
) {
  let now = 1;
  const told: { frame: number; hidden: readonly number[]; showsNext: boolean }[] = [];
  const answer: AskCalm = (hidden, showsNext) => {
    told.push({ frame: now, hidden, showsNext });
    return Promise.resolve({ leftOut: ask(now, hidden), isMissed: false });
  };
  const rest = new Rest(answer, { stride, draws: "seen" }, canLeaveOut);
  const isShown = (frame: number) => looked.includes(frame);
  const drawn: number[] = [];
  while (now <= to) {
    if (now === input) rest.end(now);
    drawn.push(now);
    now = await rest.next(now, (frame) => frame === input || isShown(frame), isShown);
  }
  return { drawn, told };
}

const calm = (_frame: number, hidden: readonly number[]) => hidden.length;
const busy = () => 0;
const allTo = (frame: number) => Array.from({ length: frame }, (_, i) => i + 1);

describe("a page at rest", () => {
  it("is drawn in full at first, then six times a second", async () => {
    const { drawn } = await listDrawn(calm);
    expect(drawn).toEqual([...allTo(6), 16, 26, 36, 46, 56]);
  });
  it("is told of every frame that is left out, at its time", async () => {
    const { told } = await listDrawn(calm, { to: 26 });
    expect(told.at(-2)).toEqual({ frame: 16, hidden: [16, 33, 50, 66, 83, 100, 116, 133, 150], showsNext: false });
  });
  it("is drawn in full for some frames after an input", async () => {
    const { drawn } = await listDrawn(calm, { input: 40 });
    expect(drawn.filter((frame) => frame >= 36)).toEqual([36, 40, 41, 42, 43, 44, 45, 55]);
  });
  it("is drawn in what is looked at, and told beforehand that this is shown", async () => {
    const { drawn, told } = await listDrawn(calm, { looked: [31, 32] });
    expect(drawn.slice(6)).toEqual([16, 26, 31, 32, 42, 52]);
    expect(told.filter(({ showsNext }) => showsNext).map(({ frame }) => frame)).toEqual([26]);
  });
});

describe("a page that moves", () => {
  it("is drawn in full, and not asked again before each frame", async () => {
    const { drawn, told } = await listDrawn(busy);
    expect(drawn).toEqual(allTo(60));
    expect(told.length).toBeLessThan(15);
  });
  it("leaves out as many frames as it says", async () => {
    const { drawn } = await listDrawn((_frame, hidden) => Math.min(2, hidden.length));
    expect(drawn).toEqual([...allTo(6), 9, 12, 15, 18, 21, 24, 27, 30, 33, 36, 39, 42, 45, 48, 51, 54, 57, 60]);
  });
  it("is played on in strides where it is heavy, and in what is looked at", async () => {
    const { drawn, told } = await listDrawn(calm, { stride: 10, looked: [33], to: 60 });
    expect(drawn).toEqual([1, 10, 20, 30, 33, 40, 50, 60]);
    expect(told.every(({ hidden }) => hidden.length === 0)).toBe(true);
  });
  it("is drawn in full by a clock that cannot leave frames out", async () => {
    expect((await listDrawn(calm, { canLeaveOut: false })).drawn).toEqual(allTo(60));
  });
  it("is to be played anew when something was missed", async () => {
    const rest = new Rest(() => Promise.resolve({ leftOut: 0, isMissed: true }), { stride: 1, draws: "seen" }, true);
    await expect(
      rest.next(
        20,
        () => false,
        () => false,
      ),
    ).rejects.toThrow(PlayedWrongly);
  });
});
