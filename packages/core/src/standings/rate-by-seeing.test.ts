import { describe, expect, it } from "vitest";
import { rateBySeeing, type SeenBallots } from "./index.js";

const cast = (name: string, lean: number, n: number, more: Partial<SeenBallots> = {}): SeenBallots => ({
  ...{ by: "pointer", name, left: 0, right: 1, lean, n },
  ...more,
});
const gapOf = ({ ratings }: ReturnType<typeof rateBySeeing>[number]) =>
  ratings.find(({ versionId }) => versionId === "a")!.rating -
  ratings.find(({ versionId }) => versionId === "b")!.rating;

describe("ratings by what voters saw with", () => {
  it("part where those with one set-up vote otherwise than those with another", () => {
    const groups = rateBySeeing(
      ["a", "b"],
      [cast("mouse", -2, 60), cast("mouse", 1, 5), cast("touch", 2, 60), cast("touch", -1, 5)],
    );
    expect(groups.map(({ name, ballots }) => [name, ballots])).toEqual([
      ["mouse", 65],
      ["touch", 65],
    ]);
    expect(gapOf(groups[0]!)).toBeGreaterThan(100);
    expect(gapOf(groups[1]!)).toBeLessThan(-100);
  });

  it("draw a group of few to the rest, and leave one of many where its ballots are", () => {
    const mouse = [cast("mouse", -2, 200), cast("mouse", 1, 60)];
    const touchOf = (n: number) => gapOf(rateBySeeing(["a", "b"], [...mouse, cast("touch", 1, n)])[1]!);
    const [few, some, many] = [touchOf(1), touchOf(5), touchOf(200)];
    expect(few).toBeGreaterThan(some);
    expect(some).toBeGreaterThan(many);
    expect(many).toBeLessThan(0);
  });

  it("say nothing where all saw with the same", () => {
    expect(rateBySeeing(["a", "b"], [cast("mouse", -1, 20)])).toEqual([]);
    expect(rateBySeeing(["a", "b"], [])).toEqual([]);
  });
});
