import { TourneyError, toTourneyError } from "@tourney/core/errors";
import { pino } from "pino";
import { Changes } from "../changes/changes.js";
import { connectDatabase } from "../db/connection.js";
import { openPool } from "../jobs/pool.js";
import { createServices, type Services } from "../services.js";
import { answerAside } from "./asides.js";
import { type Answer, type Asked, LONGEST_STATEMENT_MS, type Message } from "./messages.js";

/** Connections of its own, so that whoever votes never waits for one that a report holds, and none is held for good. */
const CONNECTIONS = 4;

let services: Promise<Services>;

async function open({ config, connection }: Exclude<Message, Asked>): Promise<Services> {
  const log = pino({ level: "silent" });
  const db = await connectDatabase(connection, log, { connections: CONNECTIONS, statementMs: LONGEST_STATEMENT_MS });
  // It asks nobody, and so needs no key.
  const own = createServices({ config, db, log, readKey: () => null });
  // What a lead has changed must be in the answer that follows: nothing is held against changes here, whoever made them.
  const changes = new Changes({ pool: openPool(connection, log), log });
  const [ofSetup, ofCells] = [changes.of("setup"), changes.of("cells")];
  own.suites.follow(ofSetup);
  own.entrants.follow(ofSetup);
  own.wall.follow(ofCells, 0);
  own.holdBallots(ofCells);
  return own;
}

async function answer({ id, ...asked }: Asked): Promise<Answer> {
  try {
    return { id, ...(await answerAside(await services, asked)) };
  } catch (thrown) {
    const { code, message, reason, remedy } = toTourneyError(thrown);
    const stack = thrown instanceof Error ? (thrown.stack ?? "") : "";
    return { id, error: { code, message, reason, remedy, stack: thrown instanceof TourneyError ? "" : stack } };
  }
}

/**
 * So long after the last answer the process clears its heap, where so much has been made since it did so last: V8 would keep what a report was made of until the next one. To clear it
 * costs 100 to 200 ms of processor, which a small answer is not worth.
 */
const LULL_MS = 1000;
const MUCH_BYTES = 32e6;
let lull: NodeJS.Timeout | undefined;
let asked = 0;
let clearedTo = 0;
function begin(): void {
  asked++;
  clearTimeout(lull);
}
function end(): void {
  asked--;
  if (asked === 0) lull = setTimeout(clearHeap, LULL_MS).unref();
}
function clearHeap(): void {
  if (process.memoryUsage().heapUsed < clearedTo + MUCH_BYTES) return;
  globalThis.gc?.();
  clearedTo = process.memoryUsage().heapUsed;
}

process.on("message", (message: Message) => {
  if ("config" in message) {
    services = open(message);
    return;
  }
  begin();
  void answer(message)
    .then((sent) => process.send?.(sent))
    .finally(end);
});
// Nobody is left who would ask.
process.on("disconnect", () => process.exit(0));
