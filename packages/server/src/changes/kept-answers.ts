import { createHash } from "node:crypto";
import { ReadyAnswer } from "../http/ready-answer.js";
import { Kept } from "./kept.js";

/** Answers to what open pages ask for again and again, as they go over the wire, kept until something changes. */
export class KeptAnswers extends Kept<ReadyAnswer> {
  getText = (key: string, read: () => Promise<string>): Promise<ReadyAnswer> =>
    this.get(key, async () => toTagged(await read()));
}

/** With a name by which whoever holds it already is not sent it again. */
export const toTagged = (text: string): ReadyAnswer =>
  new ReadyAnswer(text, `"${createHash("sha1").update(text).digest("base64url")}"`);
