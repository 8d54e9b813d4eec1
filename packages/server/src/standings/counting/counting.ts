import type { PromptRatings } from "@tourney/core/contract";
import { SquareMatrix } from "@tourney/core/ratings";
import type { RatedPrompt } from "@tourney/core/standings";
import type { DatabaseConnection } from "@tourney/store";
import { askProcess } from "../../ask-process.js";
import type { Count } from "./count-ballots.js";
import type { Answer, Asked, Message, Told } from "./counting-child.js";
import type { CountOrder } from "./ordered-ballots.js";

/** Counts ballots in a process of its own, which holds them and reads what has changed: the server waits for nothing but the result. */
export interface Counting {
  /** What the ballots come to at this moment. */
  count: (order: CountOrder) => Promise<Count>;
  /** Ratings on each prompt. */
  countPrompts: (order: CountOrder, prompts: readonly RatedPrompt[]) => Promise<PromptRatings>;
  close: () => Promise<void>;
}

/** Results of so many orders are held. */
const MOST_HELD = 6;
/** Reading two million ballots for the first time takes half a minute. */
const LONGEST_MS = 180_000;
/**
 * Nobody waits for this process alone: that it clears its memory on one core takes a fifth off what it costs. It keeps its compiled code while it rests: it would compile the same
 * code for nearly every count.
 */
const FLAGS = ["--single-threaded-gc", "--max-semi-space-size=8", "--no-flush-bytecode", "--expose-gc"];

/** @param ballotsDir where the process writes down the ballots that it holds */
export function createCounting(connection: DatabaseConnection, ballotsDir: string): Counting {
  const held = new Map<string, { token: string; count: Omit<Count, "cpuMs"> }>();
  const { ask, close } = askProcess<Message, Asked, Answer>({
    ...{ near: import.meta.url, name: "counting-child", flags: FLAGS, longestMs: LONGEST_MS },
    first: { connection, ballotsDir },
  });

  async function tell(asked: Omit<Asked, "id">): Promise<Told> {
    const answer = await ask(asked);
    if ("told" in answer) return answer.told;
    throw new Error(answer.failed);
  }

  function hold<T extends Omit<Count, "cpuMs">>(key: string, token: string, count: T): T {
    held.delete(key);
    held.set(key, { token, count });
    for (const oldest of [...held.keys()].slice(0, -MOST_HELD)) held.delete(oldest);
    return count;
  }

  return {
    async count(order) {
      const key = JSON.stringify(order);
      const before = held.get(key);
      const { token, cpuMs, count } = await tell({ order, known: before?.token ?? null, prompts: null });
      const found = count === null ? before!.count : hold(key, token, { ...count, fit: revive(count.fit) });
      return { ...found, cpuMs };
    },
    countPrompts: async (order, prompts) => (await tell({ order, known: null, prompts })).prompts!,
    close,
  };
}

/** What comes from another process has lost its methods. */
function revive(fit: Count["fit"]): Count["fit"] {
  const { size, data } = fit.model.covariance;
  return { ...fit, model: { ...fit.model, covariance: new SquareMatrix(size, data) } };
}
