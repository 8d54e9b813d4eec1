import fc from "fast-check";
import { expect, it } from "vitest";
import { Exhibition } from "./exhibition.js";

const few = (...names: string[]) => fc.constantFrom(...names);
const Candidates = fc.array(
  fc.record({
    promptId: few("p", "q"),
    competitorId: few("a", "b", "c"),
    likeness: fc.constantFrom(null, "one", "other"),
    origin: fc.constantFrom(null, "one", "other"),
  }),
  { maxLength: 14 },
);

it("two can meet on a prompt where any of their takes can, whatever was asked before", () => {
  const answers = new Set<boolean>();
  fc.assert(
    fc.property(Candidates, (drawn) => {
      const candidates = drawn.map((candidate, n) => ({ ...candidate, entryId: `e${n}` }));
      const exhibition = new Exhibition(candidates, (a, b) => a + b !== "ac" && a + b !== "ca");
      for (const promptId of exhibition.prompts) {
        const canMeet = exhibition.canMeetOn(promptId);
        for (const pair of [...exhibition.pairs, ...exhibition.pairs.toReversed()]) {
          const expected = exhibition.meetingsOf(promptId, pair.a, pair.b).length > 0;
          expect(canMeet(pair)).toBe(expected);
          answers.add(expected);
        }
        expect(exhibition.canAllMeetOn(promptId)).toBe(exhibition.pairs.every(canMeet));
      }
    }),
  );
  expect(answers.size).toBe(2);
});
