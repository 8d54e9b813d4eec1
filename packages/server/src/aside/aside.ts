import { TourneyError } from "@tourney/core/errors";
import { askProcess } from "../ask-process.js";
import type { Stamps } from "../changes/changes.js";
import { LONGEST_REST_MS } from "../changes/kept.js";
import { RESTS } from "../changes/kept-answers.js";
import type { Database } from "../db/connection.js";
import { ReadyAnswer } from "../http/ready-answer.js";
import { BasisAnswers } from "./basis-answers.js";
import {
  type Answer,
  type AnswerText,
  type AsideCall,
  type AsideName,
  type Asked,
  LONGEST_STATEMENT_MS,
  type Message,
} from "./messages.js";

/** Answers what takes long in a process of its own: whoever asks waits for it, and nobody else does. */
export interface Aside {
  answer: <Name extends AsideName>(name: Name) => (call: AsideCall<Name>) => Promise<ReadyAnswer>;
  basis: BasisAnswers;
  close: () => Promise<void>;
}

/** An answer that takes longer than two minutes ends the process; the next question starts another. */
const LONGEST_MS = 2 * LONGEST_STATEMENT_MS;

/** Longer than an answer rests: while ballots come and a report is open, the process that holds them is asked again before it ends. */
const IDLE_MS = LONGEST_REST_MS + 15_000;

/**
 * Its heap is cleared sooner than V8 would by itself, which takes a third off the memory it holds and costs it no measurable time. That it is cleared on one core takes a fifth off
 * what a voting report costs.
 */
const FLAGS = ["--single-threaded-gc", "--heap-growing-percent=20", "--max-semi-space-size=4", "--expose-gc"];
/**
 * Bytes: tables of pairs of entrants are as large, and there is one for each voter who is left out. Where malloc keeps what they took, the process holds 45 MB more after a voting
 * report of 200,000 ballots.
 */
const LARGE = 16 * 1024;

interface AsideDeps {
  db: Database;
  changes: Stamps;
  /** Where what reports are made of is written down. */
  ballotsDir: string;
}

export function createAside({ db, changes, ballotsDir }: AsideDeps): Aside {
  const { ask, close } = askProcess<Message, Asked, Answer>({
    near: import.meta.url,
    name: "aside-child",
    ...{ flags: FLAGS, large: LARGE },
    first: { connection: db.connection, ballotsDir },
    longestMs: LONGEST_MS,
    idleMs: IDLE_MS,
  });
  async function read(
    name: AsideName,
    { params, query }: { params: object; query: object },
    held: readonly string[] = [],
  ): Promise<AnswerText> {
    const answer = await ask({ name, call: { params, query }, held });
    if ("text" in answer) return answer;
    const { code, stack, ...parts } = answer.error;
    throw new TourneyError(code, { ...parts, ...(stack === "" ? {} : { cause: stack }) });
  }
  return {
    answer: (name) => async (call) => new ReadyAnswer((await read(name, call)).text),
    basis: new BasisAnswers((call, held) => read("getStandingsBasis", call, held), changes, RESTS),
    close,
  };
}
