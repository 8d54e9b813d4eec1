import type { Found, Observed } from "./observed.js";

/** What a frame may take before it is seen to stutter, and what one takes that does not: 20 and 40 frames a second. */
const SLOW_FRAME_MS = 50;
const FAST_FRAME_MS = 25;
/** What was allotted this early belongs to the page's beginning. */
const BEGUN_MS = 16_000;
/** Memory that grows by this much and by this share, and never shrinks by much, is not given back. */
const LEAK_MB = 20;
const LEAK_SHARE = 2;

/** What goes wrong with a page whose load is turned up, or that is left alone for minutes. */
export function findUnderStress({ stress }: Observed): Found[] {
  if (stress === null) return [];
  return [...findOverload(stress), ...findWornOut(stress)];
}

type Stress = NonNullable<Observed["stress"]>;

function findOverload({ control, levels }: Stress): Found[] {
  const found: Found[] = [];
  const throwing = levels.find(({ exceptions }) => exceptions > 0);
  const evidence = levels.map(({ load, frameMs }) => `${load}: ${frameMs.toFixed(0)} ms a frame`).join(", ");
  if (throwing && control !== null)
    found.push({ ...late, message: `Throws when ${control} is turned up to ${throwing.load}`, evidence });
  const [first] = levels;
  const slow = levels.find(({ frameMs }) => frameMs >= SLOW_FRAME_MS);
  if (first && slow && first.frameMs <= FAST_FRAME_MS)
    found.push({
      rule: "slow_frames",
      severity: "note",
      message: `Stutters when ${control} is turned up to ${slow.load}`,
      atMs: null,
      evidence,
    });
  return found;
}

const late = { rule: "goes_wrong", severity: "warning", atMs: null } as const;

function findWornOut({ soak }: Stress): Found[] {
  const found: Found[] = [];
  const last = soak?.samples.at(-1);
  if (!soak || !last) return found;
  const later = soak.samples.filter(({ atMs }) => atMs > BEGUN_MS);
  const throwing = later.find(({ exceptions }) => exceptions > 0);
  if (throwing)
    found.push({
      ...late,
      message: `Throws when it is left alone, by ${seconds(throwing.atMs)}`,
      evidence: `${throwing.exceptions} in that time`,
    });
  const begun = soak.samples.findLast(({ atMs }) => atMs <= BEGUN_MS);
  const isGrowing = later.every(({ heapMb }, index) => index === 0 || heapMb > 0.75 * later[index - 1]!.heapMb);
  if (begun && isGrowing && last.heapMb > LEAK_SHARE * begun.heapMb && last.heapMb - begun.heapMb > LEAK_MB)
    found.push({
      ...late,
      message: "Its memory grows without end",
      evidence: `${begun.heapMb.toFixed(0)} MB after ${seconds(begun.atMs)}, ${last.heapMb.toFixed(0)} MB after ${seconds(last.atMs)}`,
    });
  if (soak.wrongWords.length > 0)
    found.push({
      ...late,
      message: `Shows ${soak.wrongWords.join(", ")} in its text after ${seconds(last.atMs)}`,
      evidence: "left alone",
    });
  if (soak.isEmpty)
    found.push({ ...late, message: `Nothing is left in view after ${seconds(last.atMs)}`, evidence: "left alone" });
  return found;
}

const seconds = (ms: number) => `${Math.round(ms / 1000)} s`;
