import { parseArgs } from "node:util";
import { blankNames } from "@tourney/core/blinding";
import { extractArtifact, findAdmissions } from "@tourney/core/extraction";
import { createRandom, pickOne, type Random } from "@tourney/core/random";
import { HOSTILE_FRAGMENTS, HOSTILE_NAMES, HOSTILE_PLACES } from "../packages/core/test-support/hostile-text.js";
import { measureMs } from "../packages/core/test-support/processor-time.js";
import { prepareText } from "../packages/server/src/exhibit/prepare-text.js";

/**
 * Makes shapes of fragments for some minutes, and tells on stderr each that a reader takes too long for, or throws at. `--minutes`, `--readers` (of
 * those below, with commas) and `--seed` (the same seed makes the same shapes in the same order). Prints one JSON line: how many shapes were tried, how many were too slow or threw, and the slowest.
 *
 * Each is read at 128 KB and at 1 MB. A linear reader takes eight times as long; what takes over 1.3 times that at each doubling, or more of a second than
 * the goal of 2 s for 4 MB lets through, is told.
 */
const SMALL = 128 * 1024;
const LARGE = 8 * SMALL;
const MOST_GROWTH = 8 * 1.3 ** 3;
/** What is faster than this is not measured well enough to say how it grows. */
const LEAST_MS = 20;
const MOST_LARGE_MS = 500;
/** What takes this long when small is slow whatever it does when large, which might take minutes. */
const MOST_SMALL_MS = 500;

interface Shape {
  place: string;
  /** Once before them. */
  head: string;
  /** Repeated one after the other, each for its part of the text: what opens many elements and then closes them is made of two. */
  units: string[];
  /** Once behind them: what a pattern looks for in vain from each place before. */
  tail: string;
}

function makeShape(random: Random): Shape {
  const join = (most: number, least = 0) =>
    Array.from({ length: least + Math.floor(random() * (most - least + 1)) }, () =>
      pickOne(HOSTILE_FRAGMENTS, random),
    ).join("");
  // A run of one fragment is what most patterns stumble over.
  const makeUnit = () => (random() < 0.4 ? join(1, 1) : join(5, 1));
  return {
    place: pickOne(Object.keys(HOSTILE_PLACES), random),
    head: join(2),
    units: Array.from({ length: random() < 0.6 ? 1 : 2 }, makeUnit),
    tail: join(2),
  };
}

const makeText = ({ place, head, units, tail }: Shape, length: number): string => {
  const share = length / units.length;
  const repeated = units.map((unit) => unit.repeat(Math.ceil(share / unit.length)));
  return HOSTILE_PLACES[place]!([head, ...repeated, tail].join(""));
};

/** Each reader by its name. The last reads the answer as a page, as what prepares a page for voters does. */
const READERS: Record<string, (text: string) => unknown> = {
  extract: (text) => extractArtifact(text, { stopReason: "stop", names: HOSTILE_NAMES }),
  admissions: findAdmissions,
  blank: (text) => blankNames([{ path: "index.html", text }], HOSTILE_NAMES),
  prepare: (text) => prepareText(text, "index.html", { shelf: "http://127.0.0.1:4611/shelf", isPage: true }),
};

interface Judged {
  ms: number;
  why: string | null;
}

function judge(shape: Shape, read: (text: string) => unknown): Judged {
  try {
    const small = measureMs(() => read(makeText(shape, SMALL)));
    if (small > MOST_SMALL_MS) return { ms: small, why: `${Math.round(small)} ms for 128 KB` };
    const large = makeText(shape, LARGE);
    const isTooMuch = (ms: number) => ms > MOST_LARGE_MS || ms / Math.max(LEAST_MS, small) > MOST_GROWTH;
    let ms = measureMs(() => read(large));
    for (let tries = 0; tries < 2 && isTooMuch(ms); tries++)
      ms = Math.min(
        ms,
        measureMs(() => read(large)),
      );
    return { ms, why: isTooMuch(ms) ? `${Math.round(small)} ms for 128 KB, ${Math.round(ms)} ms for 1 MB` : null };
  } catch (error) {
    return { ms: 0, why: String(error).slice(0, 200) };
  }
}

function fuzz({ minutes, seed, readers }: { minutes: number; seed: number; readers: string[] }): object {
  const random = createRandom(seed);
  const end = Date.now() + minutes * 60_000;
  let shapes = 0;
  let told = 0;
  let slowest = { ms: 0, reader: "", shape: "" };
  for (; Date.now() < end; shapes++) {
    const shape = makeShape(random);
    for (const reader of readers) {
      const { ms, why } = judge(shape, READERS[reader]!);
      if (ms > slowest.ms) slowest = { ms: Math.round(ms), reader, shape: JSON.stringify(shape) };
      if (why === null) continue;
      told++;
      process.stderr.write(`${reader}  ${why}  ${JSON.stringify(shape)}\n`);
    }
  }
  return { fuzz: "hostile-text", seed, minutes, readers, shapes, told, slowest };
}

const text = { type: "string" } as const;
const { values } = parseArgs({ options: { minutes: text, seed: text, readers: text } });
const readers = values.readers?.split(",") ?? Object.keys(READERS);
for (const reader of readers)
  if (!(reader in READERS)) throw new Error(`No reader is named ${reader}: ${Object.keys(READERS).join(", ")}`);
process.stdout.write(
  `${JSON.stringify(fuzz({ minutes: Number(values.minutes ?? 10), seed: Number(values.seed ?? 1), readers }))}\n`,
);
