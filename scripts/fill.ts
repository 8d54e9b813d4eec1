import { once } from "node:events";
import { flag } from "./booth-scene.js";
import { openFilled } from "./filled-scene.js";

/**
 * Makes a folder with as much in it as a year of work: entries that are recorded, and ballots of a panel. Prints one JSON line.
 *
 *   npm run fill -- --entries 15000 --ballots 200000 --voters 200 [--serve]
 *
 * `--serve` goes on serving it and says where, until it is ended; without it the folder is left for the next call, which serves what is there.
 */
const size = { entries: flag("entries", 15_000), ballots: flag("ballots", 200_000), voters: flag("voters", 200) };
const name = `filled-${size.entries}-${size.ballots}-${size.voters}`;
const startedAt = performance.now();
const scene = await openFilled(name, size, { isKept: true });
console.log(JSON.stringify({ fill: name, ...size, seconds: Math.round((performance.now() - startedAt) / 1000) }));
if (process.argv.includes("--serve")) {
  const { token } = await scene.api<{ token: string }>("POST", "/api/tokens", { name: "looks", scopes: ["read"] });
  console.log(`${scene.api.origin} is open; a token that reads: ${token}`);
  await Promise.race([once(process, "SIGINT"), once(process, "SIGTERM")]);
}
await scene.end();
process.exit(0);
