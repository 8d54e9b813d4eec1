import { createHash } from "node:crypto";
import type * as z from "zod";
import { ReadyAnswer } from "../http/ready-answer.js";
import { Kept } from "./kept.js";

/** What was slow to read holds for so many times as long against what others change. */
export const RESTS = 16;

/** What is asked, as it was understood: however an address is written, what means the same is read once. */
export interface KeptCall {
  params: unknown;
  query: unknown;
}
type Read = (call: KeptCall) => Promise<string>;
type Answer = (call: KeptCall) => Promise<ReadyAnswer>;

/** An operation whose answers are kept. */
interface KeptOperation {
  id: string;
  query: { parse: (value: object) => unknown };
}

/** Answers to what open pages ask for again and again, as they go over the wire, kept until something changes. */
export class KeptAnswers extends Kept<ReadyAnswer> {
  private readonly offered = new Map<string, Answer>();
  private readonly restsOf = new Map<string, (call: KeptCall) => number | null>();

  getText = (key: string, read: () => Promise<string>): Promise<ReadyAnswer> =>
    this.get(key, async () => toTagged(await read()));

  /** @returns the answers of an operation, kept: each as long as it holds, or read */
  offer({ id }: KeptOperation, read: Read): Answer {
    const keyOf = ({ params, query }: KeptCall) => JSON.stringify([id, params, query]);
    const readTagged = async (call: KeptCall) => toTagged(await read(call));
    const restOf = (call: KeptCall) => (tookMs: number) => this.restsOf.get(id)?.(call) ?? this.restOf(tookMs);
    this.offered.set(id, (call) => this.getFresh(keyOf(call), () => readTagged(call), restOf(call)));
    return (call) => this.get(keyOf(call), () => readTagged(call), restOf(call));
  }

  /**
   * Says for how many milliseconds an answer of an operation rests, where that does not follow from how long it took to read; it is asked when that has been read.
   *
   * @param restOf null where it does follow
   */
  pace<P extends z.ZodType, Q extends z.ZodType>(
    { id }: { id: string; params: P; query: Q },
    restOf: (call: { params: z.output<P>; query: z.output<Q> }) => number | null,
  ): void {
    this.restsOf.set(id, (call) => restOf(call as Parameters<typeof restOf>[0]));
  }

  /** The answer as it is now, to a call without a query. Whoever asks next gets it, too. @throws Error where it is not offered */
  async readFresh({ id, query }: KeptOperation, params: object): Promise<ReadyAnswer> {
    const answerFresh = this.offered.get(id);
    if (answerFresh === undefined) throw new Error(`${id} is not kept here`);
    return answerFresh({ params, query: query.parse({}) });
  }
}

/** With a name by which whoever holds it already is not sent it again. */
export const toTagged = (text: string): ReadyAnswer =>
  new ReadyAnswer(text, `"${createHash("sha1").update(text).digest("base64url")}"`);
