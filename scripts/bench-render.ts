import { spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { availableParallelism } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { chromium } from "@playwright/test";
import type { Recording } from "@tourney/core/contract";
import { median } from "@tourney/core/stats";
import { readSuiteText } from "@tourney/core/suite";
import { BrowserPool } from "../packages/render-worker/src/browser/browser-pool.js";
import { recordForTest } from "../packages/render-worker/test-support/record-for-test.js";

/**
 * Measures the recorder on this machine and prints one JSON line: clips a minute with two browsers, wall time of one clip
 * beside a plain page recorded in real time, peak memory, how many pages are the same to the byte five times over, a
 * three-dimensional scene, entries a minute on the demo's mix, and the memory of a page that wants all there is.
 * `--only entries,clips,real-time,repeats,scene,memory` measures some of it, `--lanes N` with so many browsers, `--busy N` with so many
 * cores kept busy by something else.
 */
const flag = (name: string): string | undefined =>
  process.argv.includes(name) ? process.argv[process.argv.indexOf(name) + 1] : undefined;
const LANES = Number(flag("--lanes") ?? 2);
const CLIPS = 12;
const ROUNDS = 3;
const REPEATED_PAGES = 32;
const REPEATS = 5;
const EXHIBITS = join(import.meta.dirname, "..", "packages", "stand-in-model", "exhibits");

/** A page as many are: a game on a canvas with buttons and text around it. */
const MEDIUM = readFileSync(join(EXHIBITS, "lock-keeper", "b.html"), "utf8");

/** Eighty shaded cubes by bare WebGL. */
const SCENE = `<!doctype html><html lang="en"><title>Cubes</title><style>body { margin: 0 }</style><canvas id="c" width="1280" height="800"></canvas><script>
  const g = c.getContext("webgl"); const compile = (type, text) => { const s = g.createShader(type); g.shaderSource(s, text); g.compileShader(s); return s; };
  const p = g.createProgram(); g.attachShader(p, compile(g.VERTEX_SHADER, "attribute vec3 a; attribute vec3 n; uniform mat4 m; uniform mat4 r; varying vec3 v; void main() { gl_Position = m * vec4(a, 1.0); v = (r * vec4(n, 0.0)).xyz; }"));
  g.attachShader(p, compile(g.FRAGMENT_SHADER, "precision highp float; varying vec3 v; uniform vec3 k; void main() { vec3 n = normalize(v); float d = 0.25 + 0.7 * max(0.0, dot(n, normalize(vec3(0.4, 0.8, 0.5)))); float s = pow(max(0.0, n.z), 24.0); gl_FragColor = vec4(k * d + s * 0.4, 1.0); }"));
  g.linkProgram(p); g.useProgram(p); g.enable(g.DEPTH_TEST);
  const faces = [[0,0,1],[0,0,-1],[0,1,0],[0,-1,0],[1,0,0],[-1,0,0]], points = [];
  for (const n of faces) { const u = [n[1], n[2], n[0]], w = [n[1]*u[2]-n[2]*u[1], n[2]*u[0]-n[0]*u[2], n[0]*u[1]-n[1]*u[0]]; for (const [a, b] of [[-1,-1],[1,-1],[1,1],[-1,-1],[1,1],[-1,1]]) points.push(...[0,1,2].map((i) => n[i] + a*u[i] + b*w[i]), ...n); }
  g.bindBuffer(g.ARRAY_BUFFER, g.createBuffer()); g.bufferData(g.ARRAY_BUFFER, new Float32Array(points), g.STATIC_DRAW);
  const at = (name) => g.getAttribLocation(p, name), un = (name) => g.getUniformLocation(p, name); g.enableVertexAttribArray(at("a")); g.enableVertexAttribArray(at("n")); g.vertexAttribPointer(at("a"), 3, g.FLOAT, false, 24, 0); g.vertexAttribPointer(at("n"), 3, g.FLOAT, false, 24, 12);
  const times = (a, b) => { const r = new Float32Array(16); for (let i = 0; i < 4; i++) for (let j = 0; j < 4; j++) for (let k = 0; k < 4; k++) r[j*4+i] += a[k*4+i] * b[j*4+k]; return r; };
  const f = 1.6, near = 0.1, far = 60, persp = [f*0.625,0,0,0, 0,f,0,0, 0,0,(far+near)/(near-far),-1, 0,0,2*far*near/(near-far),0];
  const turn = (x, y) => times([1,0,0,0, 0,Math.cos(x),Math.sin(x),0, 0,-Math.sin(x),Math.cos(x),0, 0,0,0,1], [Math.cos(y),0,-Math.sin(y),0, 0,1,0,0, Math.sin(y),0,Math.cos(y),0, 0,0,0,1]);
  const draw = (t) => { g.clearColor(0.05, 0.1, 0.15, 1); g.clear(g.COLOR_BUFFER_BIT | g.DEPTH_BUFFER_BIT);
    for (let i = 0; i < 80; i++) { const r = turn(t / 900 + i, t / 700 + i * 2), s = 0.32, m = times(persp, times([1,0,0,0, 0,1,0,0, 0,0,1,0, (i % 10) * 1.1 - 5, Math.floor(i / 10) * 1.1 - 3.8, -9, 1], times(r, [s,0,0,0, 0,s,0,0, 0,0,s,0, 0,0,0,1])));
      g.uniformMatrix4fv(un("m"), false, m); g.uniformMatrix4fv(un("r"), false, r); g.uniform3f(un("k"), 0.5 + 0.5 * Math.sin(i), 0.5 + 0.5 * Math.sin(i * 2), 0.7); g.drawArrays(g.TRIANGLES, 0, 36); }
    requestAnimationFrame(draw); };
  requestAnimationFrame(draw);
</script>`;

const PLAN = { viewport: { width: 1280, height: 800 }, seconds: 6, frames: 12, motionExpected: true };

/** As the worker records: browsers are kept from one entry to the next. */
const pool = new BrowserPool();
const record = (page: string | Buffer): Promise<Recording> => recordForTest(page, PLAN, { pool });

/** Works through tasks in two lanes. */
async function inLanes<T>(tasks: readonly T[], work: (task: T) => Promise<void>): Promise<void> {
  const queue = [...tasks];
  const lane = async () => {
    for (let task = queue.shift(); task !== undefined; task = queue.shift()) await work(task);
  };
  await Promise.all(Array.from({ length: LANES }, lane));
}

/** Memory of all browsers of ours, shared pages counted once. */
function measureBrowsers(): number {
  let kilobytes = 0;
  for (const pid of readdirSync("/proc").filter((name) => /^\d+$/.test(name))) {
    try {
      if (!readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("headless-shell")) continue;
      kilobytes += Number(/^Pss:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, "utf8"))?.[1] ?? 0);
    } catch {
      // It has ended since the folder was read.
    }
  }
  return kilobytes / 1000;
}

async function benchClips() {
  const perMinute: number[] = [];
  const seen = new Map<string, number>();
  const recordSome = (count: number) =>
    inLanes(
      Array.from({ length: count }, (_, i) => i),
      async () => {
        const { outcome, frames, metrics } = await record(MEDIUM);
        const what = `${outcome} at ${metrics.framesPerSecond}/s: ${frames.map(({ sha256 }) => sha256.slice(0, 6)).join(" ")}`;
        seen.set(what, (seen.get(what) ?? 0) + 1);
      },
    );
  await recordSome(LANES);
  for (let round = 0; round < ROUNDS; round++) {
    const startedAt = performance.now();
    await recordSome(CLIPS);
    perMinute.push(CLIPS / ((performance.now() - startedAt) / 60_000));
  }
  // Looking at what they use takes some of the machine's time, so it is done in a round of its own.
  let peakMb = 0;
  const watch = setInterval(() => {
    peakMb = Math.max(peakMb, measureBrowsers());
  }, 500);
  await recordSome(CLIPS / 2);
  clearInterval(watch);
  return {
    clipsPerMinute: round1(median(perMinute)!),
    clipsPerMinuteRounds: perMinute.map(round1),
    peakBrowsersMb: Math.round(peakMb),
    differentRecordings: seen.size,
    ...(seen.size > 1 ? { seen: Object.fromEntries(seen) } : {}),
  };
}

async function benchAlone() {
  const wallMs: number[] = [];
  for (let i = 0; i < 5; i++) {
    const startedAt = performance.now();
    await record(MEDIUM);
    wallMs.push(performance.now() - startedAt);
  }
  const realMs: number[] = [];
  for (let i = 0; i < 3; i++) realMs.push(await recordInRealTime(MEDIUM));
  return { clipWallMs: Math.round(median(wallMs)!), realTimeWallMs: Math.round(median(realMs)!) };
}

/** The same pictures by a plain page, with real waits between them. */
async function recordInRealTime(page: string): Promise<number> {
  const startedAt = performance.now();
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-quic", "--disable-background-networking"],
  });
  const tab = await browser.newPage({ viewport: PLAN.viewport });
  await tab.setContent(page);
  for (let frame = 0; frame < PLAN.frames; frame++) {
    await tab.screenshot();
    await sleep((PLAN.seconds * 1000) / (PLAN.frames - 1) - 40);
  }
  await browser.close();
  return performance.now() - startedAt;
}

async function benchRepeats() {
  const pages = readdirSync(EXHIBITS, { recursive: true, encoding: "utf8" })
    .filter((path) => path.endsWith(".html") && !path.startsWith("other"))
    .toSorted()
    .slice(0, REPEATED_PAGES);
  let same = 0;
  const unlike: string[] = [];
  await inLanes(pages, async (path) => {
    const page = readFileSync(join(EXHIBITS, path));
    const seen = new Set<string>();
    for (let i = 0; i < REPEATS; i++) seen.add((await record(page)).frames.map(({ sha256 }) => sha256).join());
    if (seen.size === 1) same++;
    else unlike.push(path);
  });
  return { repeatedPages: pages.length, repeats: REPEATS, identicalShare: same / pages.length, unlike };
}

async function benchScene() {
  const wallMs: number[] = [];
  let framesPerSecond = 0;
  for (let i = 0; i < 3; i++) {
    const startedAt = performance.now();
    const recording = await record(SCENE);
    framesPerSecond = recording.metrics.framesPerSecond;
    wallMs.push(performance.now() - startedAt);
    if (recording.outcome !== "ok") throw new Error(`The scene ended as ${recording.outcome}`);
  }
  return { sceneWallMs: Math.round(median(wallMs)!), sceneFramesPerSecond: framesPerSecond };
}

/** The demo's outputs with the suite's own recipes, as the worker records them: controls judged, one in ten repeated, and what was flagged. */
async function benchEntries() {
  const { parsed } = readSuiteText(readFileSync(join(EXHIBITS, "..", "..", "..", "demo", "suite.yaml"), "utf8"));
  if (!parsed.ok) throw new Error("The demo's suite cannot be read");
  const entries = parsed.value.prompts.flatMap((prompt) => {
    const folder = join(EXHIBITS, prompt.key);
    if (!existsSync(folder)) return [];
    const names = readdirSync(folder).toSorted();
    return names
      .filter((name) => /\.(?:html|svg)$/.test(name))
      .map((name) => {
        // A page of several files has them beside it under its own letter.
        const own = names.filter((other) => other.startsWith(name[0]!) && other !== name);
        const files = Object.fromEntries([name, ...own].map((file) => [file, readFileSync(join(folder, file))]));
        return { name: `${prompt.key}/${name}`, files, prompt };
      });
  });
  const seconds: [string, number, string][] = [];
  const startedAt = performance.now();
  await inLanes([...entries.entries()], async ([index, { name, files, prompt }]) => {
    const began = performance.now();
    const { viewport, furtherViewports, walkthrough, kind, motion } = prompt;
    const { findings } = await recordForTest(
      files,
      {
        ...{ viewport, furtherViewports, walkthrough, kind, seconds: prompt.seconds, frames: 12 },
        ...{ motionExpected: motion, realTime: motion, repeats: index % 10 === 0 ? 2 : 1, repeatFlagged: true },
      },
      { pool },
    );
    const flags = findings.filter(({ severity }) => severity !== "note").map(({ rule }) => rule);
    seconds.push([name, round1((performance.now() - began) / 1000), flags.join(" ")]);
  });
  const perMinute = entries.length / ((performance.now() - startedAt) / 60_000);
  const slowest = seconds.toSorted((a, b) => b[1] - a[1]).slice(0, 8);
  return { entries: entries.length, entriesPerMinute: round1(perMinute), slowestEntries: slowest };
}

/** What a page that fills memory outside the script's own heap comes to before it is ended. */
async function benchMemory() {
  const page = `<!doctype html><title>Wants all</title><script>const kept = []; setInterval(() => { kept.push(new Uint8Array(40e6).fill(1)); }, 20);</script>`;
  let peakMb = 0;
  const watch = setInterval(() => {
    peakMb = Math.max(peakMb, measureBrowsers());
  }, 50);
  const { outcome } = await record(page);
  clearInterval(watch);
  return { badPageOutcome: outcome, badPagePeakMb: Math.round(peakMb) };
}

/** Processor time since the machine started, in clock ticks of all cores: all of it, and what the host gave to others. */
function readProcessorTimes(): { all: number; stolen: number } {
  const [line] = readFileSync("/proc/stat", "utf8").split("\n");
  const times = line!.trim().split(/\s+/).slice(1, 9).map(Number);
  return { all: times.reduce((sum, time) => sum + time, 0), stolen: times[7]! };
}

/** Milliseconds for the digest of 256 MB on one core. */
function measureReference(): number {
  const block = Buffer.alloc(1 << 20, "reference");
  const startedAt = performance.now();
  const hash = createHash("sha256");
  for (let i = 0; i < 256; i++) hash.update(block);
  hash.digest();
  return performance.now() - startedAt;
}

const round1 = (value: number) => Math.round(value * 10) / 10;
const PARTS = {
  entries: benchEntries,
  clips: benchClips,
  "real-time": benchAlone,
  repeats: benchRepeats,
  scene: benchScene,
  memory: benchMemory,
};
const only = flag("--only")?.split(",") ?? Object.keys(PARTS);
const others = Array.from({ length: Number(flag("--busy") ?? 0) }, () => spawn(process.execPath, ["-e", "for (;;);"]));
process.on("exit", () => others.forEach((other) => other.kill()));
const busyBefore = readProcessorTimes();
const referenceBefore = measureReference();
const result: Record<string, unknown> = {};
for (const [name, run] of Object.entries(PARTS)) if (only.includes(name)) Object.assign(result, await run());
const busyAfter = readProcessorTimes();
// What the machine was like meanwhile: the time of a fixed piece of work, and the share of its time that others took.
Object.assign(result, {
  machine: {
    cores: availableParallelism(),
    referenceMs: [referenceBefore, measureReference()].map(Math.round),
    stolenShare: Math.round(((busyAfter.stolen - busyBefore.stolen) / (busyAfter.all - busyBefore.all)) * 1000) / 1000,
  },
});
console.log(JSON.stringify(result));
process.exit();
