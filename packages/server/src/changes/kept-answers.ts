import { createHash } from "node:crypto";
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
  private readonly offered = new Map<string, { answer: Answer; answerFresh: Answer }>();

  getText = (key: string, read: () => Promise<string>): Promise<ReadyAnswer> =>
    this.get(key, async () => toTagged(await read()));

  /** @returns the answers of an operation, kept: each as long as it holds, or read */
  offer({ id }: KeptOperation, read: Read): Answer {
    const keyOf = ({ params, query }: KeptCall) => JSON.stringify([id, params, query]);
    const answer: Answer = (call) => this.getText(keyOf(call), () => read(call));
    const answerFresh: Answer = (call) => this.getFresh(keyOf(call), async () => toTagged(await read(call)));
    this.offered.set(id, { answer, answerFresh });
    return answer;
  }

  /** Reads an answer before anybody asks for it, as it is without a query. @throws Error where it is not offered */
  async readAhead(operation: KeptOperation, params: object): Promise<void> {
    await this.find(operation).answer({ params, query: operation.query.parse({}) });
  }

  /** The answer as it is now, without a query; whoever asks next gets it, too. @throws Error where it is not offered */
  readFresh(operation: KeptOperation, params: object): Promise<ReadyAnswer> {
    return this.find(operation).answerFresh({ params, query: operation.query.parse({}) });
  }

  private find({ id }: KeptOperation): { answer: Answer; answerFresh: Answer } {
    const found = this.offered.get(id);
    if (found === undefined) throw new Error(`${id} is not kept here`);
    return found;
  }
}

/** With a name by which whoever holds it already is not sent it again. */
export const toTagged = (text: string): ReadyAnswer =>
  new ReadyAnswer(text, `"${createHash("sha1").update(text).digest("base64url")}"`);
