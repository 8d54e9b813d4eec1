import { toTourneyError } from "@tourney/core/errors";
import type { RatedPrompt } from "@tourney/core/standings";
import type { DatabaseConnection } from "@tourney/store";
import { fileBallots, openChildLog } from "../../child-log.js";
import { LullClearing } from "../../clear-heap.js";
import { connectDatabase } from "../../db/connection.js";
import { BallotReader } from "./ballot-reader.js";
import { type Count, type CountedOrder, countOrder, countPrompts } from "./count-ballots.js";
import { type CountOrder, JoinedBallots, OrderedBallots } from "./ordered-ballots.js";

interface First {
  connection: DatabaseConnection;
  /** Where it writes down the ballots that it holds. */
  ballotsDir: string;
}
/** What the process is sent: first where things are, then what is asked. */
export type Message = First | Asked;
export interface Asked {
  id: number;
  order: CountOrder;
  /** Of which count whoever asks has the result already. */
  known: string | null;
  /** Where ratings on each prompt are wanted; as the order's wordings. */
  prompts: readonly RatedPrompt[] | null;
}
/** Names a result, so that it is not sent twice. */
export interface Told {
  token: string;
  cpuMs: number;
  /** Null where it is known already. */
  count: Omit<Count, "cpuMs"> | null;
  prompts: ReturnType<typeof countPrompts> | null;
}
export type Answer = { id: number } & ({ told: Told } | { failed: string });

/** Counts of so many orders are held. */
const MOST_HELD = 6;

const log = openChildLog("counting");

let places: First;
let reader: BallotReader | null = null;
interface Held {
  ballots: OrderedBallots;
  joined: JoinedBallots;
  last: { state: number; token: string; counted: CountedOrder } | null;
}
const held = new Map<string, Held>();

/** Where the database was away, whoever asks next tries again. */
async function open(): Promise<BallotReader> {
  const { connection, ballotsDir } = places;
  reader ??= new BallotReader(await connectDatabase(connection, log, { connections: 1 }), fileBallots(ballotsDir, log));
  return reader;
}

function count(own: BallotReader, order: CountOrder): { token: string; counted: CountedOrder } {
  const key = JSON.stringify(order);
  const found = held.get(key) ?? { ballots: new OrderedBallots(order), joined: new JoinedBallots(order), last: null };
  held.delete(key);
  held.set(key, found);
  for (const oldest of [...held.keys()].slice(0, -MOST_HELD)) held.delete(oldest);
  if (found.last?.state === own.state) return found.last;
  // Its ballots are overwritten by those of the next.
  found.last = null;
  found.ballots.update(own);
  const counted = countOrder(found.ballots.list(), order, found.joined);
  found.last = { state: own.state, token: `${process.pid} ${performance.now()}`, counted };
  return found.last;
}

function spentSince(start: NodeJS.CpuUsage): number {
  const { user, system } = process.cpuUsage(start);
  return (user + system) / 1000;
}

/** What is told of a count: the ballots themselves stay here. */
const toTold = ({ counted, fit, digest, sources, countedAt }: CountedOrder): Told["count"] => ({
  ...{ counted, fit, digest, sources, countedAt },
});

async function answer({ order, known, prompts }: Asked): Promise<Told> {
  const before = process.cpuUsage();
  const own = await open();
  const isFirst = await own.refresh();
  const start = isFirst ? process.cpuUsage() : before;
  const { token, counted } = count(own, order);
  return {
    token,
    cpuMs: spentSince(start),
    count: token === known ? null : toTold(counted),
    prompts: prompts === null ? null : countPrompts(counted, order, prompts),
  };
}

/** Longer than counting rests while ballots come: clearing after every few counts would add to what they cost. */
const LULL_MS = 10_000;
const clearing = new LullClearing(LULL_MS);
// One after the other: what is read for one is there for the next.
let last: Promise<unknown> = Promise.resolve();
process.on("message", (message: Message) => {
  if ("connection" in message) {
    places = message;
    return;
  }
  clearing.begin();
  last = last
    .then(() => answer(message))
    .then(
      (told): Answer => ({ id: message.id, told }),
      (thrown: unknown): Answer => ({ id: message.id, failed: toTourneyError(thrown).message }),
    )
    .then((sent) => process.send!(sent))
    .finally(() => clearing.end());
});
// Nobody is left who would ask.
process.on("disconnect", () => process.exit(0));
