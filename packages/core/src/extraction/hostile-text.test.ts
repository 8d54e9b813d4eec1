import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { HOSTILE_FRAGMENTS, HOSTILE_NAMES, HOSTILE_SHAPES } from "../../test-support/hostile-text.js";
import { measureMs } from "../../test-support/processor-time.js";
import { findAdmissions } from "./admissions.js";
import { extractArtifact } from "./extract.js";

const SMALL = 32 * 1024;
const FACTOR = 8;
/** For eight times the text: 1.3 times the time of a linear reader at each doubling. A quadratic one takes 64 times as long. */
const MOST_GROWTH = FACTOR * 1.3 ** 3;
/** What is faster than this is not measured well enough to say how it grows. */
const LEAST_MS = 15;

/** The least of some tries. */
function measure(text: string, tries: number): number {
  const read = () => {
    extractArtifact(text, { stopReason: "stop", names: HOSTILE_NAMES });
    findAdmissions(text);
  };
  return Math.min(...Array.from({ length: tries }, () => measureMs(read)));
}

const growthOf = (make: (length: number) => string, tries: number): number =>
  measure(make(SMALL * FACTOR), tries) / Math.max(LEAST_MS, measure(make(SMALL), 2));

const MOST_TRIES = 6;

/**
 * Measured again, and more often, where it seems too much: the memory of what was read before may have been cleared up in the meantime. What
 * grows with the square of the text takes nearly four times as long as what is let through, however often it is tried.
 */
function leastGrowthOf(make: (length: number) => string): number {
  let least = Infinity;
  for (let tries = 1; tries <= MOST_TRIES && least >= MOST_GROWTH; tries++)
    least = Math.min(least, growthOf(make, tries));
  return least;
}

describe("reading an answer", () => {
  it.each(HOSTILE_SHAPES.map(({ name, make }) => [name, make] as const))(
    "takes time in proportion to its length: %s",
    (_, make) => {
      expect(leastGrowthOf(make)).toBeLessThan(MOST_GROWTH);
    },
    60_000,
  );

  it("takes time in proportion to its length, whatever fragments it repeats", () => {
    const fragment = fc.constantFrom(...HOSTILE_FRAGMENTS);
    fc.assert(
      fc.property(fc.array(fragment, { minLength: 1, maxLength: 5 }), fc.boolean(), (fragments, isScript) => {
        const unit = fragments.join("");
        const make = (length: number) => {
          const text = unit.repeat(Math.ceil(length / unit.length));
          return isScript ? `<!doctype html><html><body><script>${text}</script>` : text;
        };
        expect(leastGrowthOf(make), JSON.stringify(unit)).toBeLessThan(MOST_GROWTH);
      }),
      { numRuns: 60 },
    );
  }, 180_000);

  it("stands many strings in one script", () => {
    const script = '"a",'.repeat(200_000);
    const { verdict } = extractArtifact(
      `<!doctype html><html><body><p>A page</p><script>[${script}]</script></body></html>`,
      {
        stopReason: "stop",
        names: HOSTILE_NAMES,
      },
    );
    expect(verdict).toBe("ok");
  });
});
