import { TourneyError, toTourneyError } from "@tourney/core/errors";
import { Changes } from "../changes/changes.js";
import { fileBallots, openChildLog } from "../child-log.js";
import { LullClearing } from "../clear-heap.js";
import { connectDatabase } from "../db/connection.js";
import { openPool } from "../jobs/pool.js";
import { createReaders } from "../reading/readers.js";
import { createReportServices, type ReportServices } from "../report-services.js";
import { AuditRepository } from "../voting/audit-repository.js";
import { answerAside } from "./asides.js";
import { type Answer, type Asked, LONGEST_STATEMENT_MS, type Message } from "./messages.js";

/** Connections of its own, so that whoever votes never waits for one that a report holds, and none is held for good. */
const CONNECTIONS = 4;

const log = openChildLog("aside");

let services: Promise<ReportServices>;

async function open({ connection, ballotsDir }: Exclude<Message, Asked>): Promise<ReportServices> {
  const files = fileBallots(ballotsDir, log);
  const db = await connectDatabase(connection, log, { connections: CONNECTIONS, statementMs: LONGEST_STATEMENT_MS });
  // It asks nobody, and so needs no key.
  const own = createReportServices({
    db,
    readers: createReaders(),
    readKey: () => null,
    audit: new AuditRepository(db),
    ballotsDir,
  });
  // What a lead has changed must be in the answer that follows: nothing is held against changes here, whoever made them.
  const changes = new Changes({ pool: openPool(connection, log), log });
  const [ofSetup, ofCells] = [changes.of("setup"), changes.of("cells")];
  own.suites.follow(ofSetup);
  own.entrants.follow(ofSetup);
  own.wall.follow(ofCells, 0);
  own.holdBallots(ofCells, files);
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

/** Reports are rarely asked for: what one was made of would stay until the next one. */
const LULL_MS = 1000;
const clearing = new LullClearing(LULL_MS);

process.on("message", (message: Message) => {
  if ("connection" in message) {
    services = open(message);
    return;
  }
  clearing.begin();
  void answer(message)
    .then((sent) => process.send?.(sent))
    .finally(() => clearing.end());
});
// Nobody is left who would ask.
process.on("disconnect", () => process.exit(0));
