import { createHash } from "node:crypto";
import { Kept } from "./kept.js";

/** An answer as it goes over the wire, and the tag that tells it apart from others. */
export interface KeptAnswer {
  text: string;
  tag: string;
}

/** Answers to what open pages ask for again and again, kept until something changes. */
export class KeptAnswers extends Kept<KeptAnswer> {
  getText = (key: string, read: () => Promise<string>): Promise<KeptAnswer> =>
    this.get(key, async () => tag(await read()));
}

const tag = (text: string): KeptAnswer => ({
  text,
  tag: `"${createHash("sha1").update(text).digest("base64url")}"`,
});
