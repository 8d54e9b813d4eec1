import { expect, it } from "vitest";
import { SIGN_PLACES } from "../ballots/ballot-queries.sql.js";
import { countOutcomes } from "./count-outcomes.js";

const RATED = 1 << SIGN_PLACES.isRated.shift;
const REPEAT = 1 << SIGN_PLACES.isRepeat.shift;

it("counts ballots by which entry they lean to, without other contests and without what was shown a second time", () => {
  const ballots = [
    { left: 0, right: 1, signs: RATED | 0 },
    { left: 1, right: 0, signs: RATED | 1 },
    { left: 0, right: 1, signs: RATED | 2 },
    { left: 0, right: 2, signs: RATED | 4 },
    { left: 0, right: 1, signs: RATED | REPEAT | 0 },
    { left: 0, right: 1, signs: 0 },
  ];
  const column = (name: "left" | "right" | "signs") => Uint16Array.from(ballots, (one) => one[name]);
  const none = new Int32Array(ballots.length);
  const outcomes = countOutcomes({
    entries: ["a", "b", "c"].map((id) => ({ id, versionId: id, entrantId: id })),
    columns: {
      ...{ left: column("left"), right: column("right"), signs: column("signs") },
      ...{ voter: none, prompt: none, at: none, dwellMs: none, reasons: new Uint16Array(none) },
    },
  });
  expect(Object.fromEntries(outcomes)).toEqual({
    a: { won: 1, lost: 2, even: 1 },
    b: { won: 1, lost: 1, even: 1 },
    c: { won: 1, lost: 0, even: 0 },
  });
});
