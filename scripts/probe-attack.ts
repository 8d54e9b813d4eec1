import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { Worker } from "node:worker_threads";
import * as z from "zod";
import {
  type Attack,
  attackAsNeighbour,
  attackBodies,
  attackByAnswers,
  attackByFiles,
  attackOperations,
  type Target,
  tryAttacks,
} from "../packages/server/test-support/attacks/index.js";
import { signIn } from "./bench-server.js";
import { openScene, type Scene } from "./booth-scene.js";

/**
 * Attacks a real server in all ways that are known: every operation by everybody who may not call it, bodies and files that are made to stop whoever reads them, neighbours, and
 * pages that are made to get out of a stage or to tell who made them. Prints what fell, a line each, how long a health request waited at most
 * meanwhile, and last `N held, M fell`. Exit code 1 where anything fell.
 *
 * `--short` leaves out the longest answers and what needs a browser; `--only NAME` tries one group.
 */
const isShort = process.argv.includes("--short");
/** A health request waits no longer than this, whatever is read meanwhile. */
const LONGEST_WAIT_MS = 200;
const LONGEST_ANSWER = 3_900_000;
const onlyAt = process.argv.indexOf("--only");
const only = onlyAt === -1 ? null : process.argv[onlyAt + 1]!;

/** Asks for the server's health without end, in a thread of its own, and knows how long it waited. */
function watchHealth(origin: string): { read: () => Promise<number>; stop: () => Promise<unknown> } {
  const worker = new Worker(
    `const { parentPort, workerData } = require("node:worker_threads");
     let slowest = 0;
     parentPort.on("message", () => { parentPort.postMessage(slowest); slowest = 0; });
     (async () => { for (;;) { const at = performance.now(); await fetch(workerData + "/api/health").then((a) => a.text()).catch(() => (slowest = Infinity)); slowest = Math.max(slowest, performance.now() - at); await new Promise((r) => setTimeout(r, 20)); } })();`,
    { eval: true, workerData: origin },
  );
  return {
    stop: () => worker.terminate(),
    read: () =>
      new Promise((resolve) => {
        worker.once("message", (slowest: number) => resolve(slowest));
        worker.postMessage("read");
      }),
  };
}

async function openTarget(scene: Scene): Promise<Target> {
  const lead = await signIn(scene.origin, scene.environment);
  const [edition] = z.array(z.object({ id: z.string() })).parse(await lead("GET", "/api/editions"));
  const { token } = await lead<{ token: string }>("POST", "/api/tokens", { name: "reads", scopes: ["read"] });
  const joined = await fetch(`${scene.origin}/api/booth/${scene.panelToken}/voters`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: "{}",
  });
  return {
    origin: scene.origin,
    exhibitsAt: scene.exhibitsAt,
    lead: { Cookie: lead.cookie() },
    voter: { Cookie: joined.headers.getSetCookie()[0]!.split(";")[0]! },
    reader: { Authorization: `Bearer ${token}` },
    editionId: edition!.id,
    promptKey: "p0",
    entrantKey: "entrant-0",
  };
}

const Stages = z.object({ pages: z.int(), findings: z.array(z.object({ page: z.string(), what: z.string() })) });
const Blindness = z.looseObject({ told: z.array(z.string()), looked: z.int() });

/** Another probe, by the line that it prints last. */
async function runProbe<T>(name: string, schema: z.ZodType<T>): Promise<T> {
  const { stdout } = await promisify(execFile)("npm", ["run", "-s", name], { maxBuffer: 100_000_000 });
  return schema.parse(JSON.parse(stdout.trim().split("\n").at(-1)!));
}

let [held, fell] = [0, 0];
const tell = (tried: number, what: readonly { name: string; what: string }[]) => {
  held += tried - what.length;
  fell += what.length;
  for (const one of what) console.log(`${one.name}: ${one.what}`);
};

const scene = await openScene({
  name: "probe-attack",
  ...{ prompts: 1, entrants: 2, quota: 1 },
  answer: () => "<!doctype html><title>Plain</title><h1>Plain</h1>",
});
try {
  const target = await openTarget(scene);
  const health = watchHealth(scene.origin);
  const groups: [string, Attack[]][] = [
    ["operations", attackOperations(target)],
    ["bodies", attackBodies(target)],
    ["files", attackByFiles(target)],
    ["neighbours", attackAsNeighbour(target)],
    ["answers", isShort ? attackByAnswers(target, 200_000, 24) : attackByAnswers(target, LONGEST_ANSWER, 24)],
    ...(isShort ? [] : [["short answers", attackByAnswers(target, 256_000)] satisfies [string, Attack[]]]),
  ];
  await health.read();
  for (const [name, attacks] of groups) {
    if (only !== null && only !== name) continue;
    tell(attacks.length, await tryAttacks(attacks));
    const waitedMs = Math.round(await health.read());
    console.log(`${name}: ${attacks.length} tried; a health request waited ${waitedMs} ms at most`);
    // A server that is gone answers nobody.
    tell(1, waitedMs > LONGEST_WAIT_MS ? [{ name, what: `a health request waited ${waitedMs} ms` }] : []);
  }
  await health.stop();
} finally {
  await scene.pool.end();
  scene.server.removeAllListeners("exit");
  scene.server.kill();
  await scene.end();
}
if (!isShort && only === null) {
  const stages = await runProbe("probe:stages", Stages);
  tell(stages.pages, [
    ...new Map(stages.findings.map(({ page, what }) => [page, { name: `a page that ${page}`, what }])).values(),
  ]);
  const blindness = await runProbe("probe:blindness", Blindness);
  tell(
    blindness.looked,
    blindness.told.map((what) => ({ name: "blindness", what })),
  );
}
console.log(`${held} held, ${fell} fell`);
process.exit(fell > 0 ? 1 : 0);
