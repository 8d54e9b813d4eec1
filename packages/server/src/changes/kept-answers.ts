import { createHash } from "node:crypto";
import { ReadyAnswer } from "../http/ready-answer.js";
import { Kept } from "./kept.js";

/** What was slow to read holds for so many times as long against what others change. */
export const RESTS = 8;

/** What is asked, as it was understood: however an address is written, what means the same is read once. */
export interface KeptCall {
  params: unknown;
  query: unknown;
}
type Read = (call: KeptCall) => Promise<string>;

/** An operation whose answers are kept. */
interface KeptOperation {
  id: string;
  query: { parse: (value: object) => unknown };
}

/** Answers to what open pages ask for again and again, as they go over the wire, kept until something changes. */
export class KeptAnswers extends Kept<ReadyAnswer> {
  private readonly offered = new Map<string, (call: KeptCall) => Promise<ReadyAnswer>>();

  getText = (key: string, read: () => Promise<string>): Promise<ReadyAnswer> =>
    this.get(key, async () => toTagged(await read()));

  /** @returns the answers of an operation, kept: each as long as it holds, or read */
  offer({ id }: KeptOperation, read: Read): (call: KeptCall) => Promise<ReadyAnswer> {
    const answer = ({ params, query }: KeptCall) =>
      this.getText(JSON.stringify([id, params, query]), () => read({ params, query }));
    this.offered.set(id, answer);
    return answer;
  }

  /** Reads an answer before anybody asks for it, as it is without a query. @throws Error where it is not offered */
  async readAhead({ id, query }: KeptOperation, params: object): Promise<void> {
    const answer = this.offered.get(id);
    if (answer === undefined) throw new Error(`${id} is not kept here`);
    await answer({ params, query: query.parse({}) });
  }
}

/** With a name by which whoever holds it already is not sent it again. */
export const toTagged = (text: string): ReadyAnswer =>
  new ReadyAnswer(text, `"${createHash("sha1").update(text).digest("base64url")}"`);
