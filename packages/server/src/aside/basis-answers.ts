import { TourneyError } from "@tourney/core/errors";
import type { Stamps } from "../changes/changes.js";
import { Kept, QUICK_MS } from "../changes/kept.js";
import { toTagged } from "../changes/kept-answers.js";
import { ReadyAnswer } from "../http/ready-answer.js";
import type { AnswerText, AsideCall } from "./messages.js";

type Call = AsideCall<"getStandingsBasis">;

interface BasisAnswer {
  head: ReadyAnswer;
  parts: ReadonlyMap<string, ReadyAnswer>;
}

/** Parts of so many bases can be asked for: of one that is looked at, and of the one before it. */
const MOST_GIVEN = 4;

/** Answers with a basis in parts. Whoever follows it fetches the parts that are new. */
export class BasisAnswers {
  private readonly kept: Kept<BasisAnswer>;
  /** Those that were given last, the newest at the end. */
  private given: BasisAnswer[] = [];

  constructor(
    private readonly read: (call: Call, held: readonly string[]) => Promise<AnswerText>,
    changes: Stamps,
    rests: number,
  ) {
    // Whoever counts by another choice goes on with the ballots there are, and gets the new ones when they have been read.
    this.kept = new Kept(changes, { rests, slowMs: QUICK_MS });
  }

  /** All but the ballots, with the names of their parts. */
  async getHead(call: Call): Promise<ReadyAnswer> {
    return this.give(await this.kept.get(keyOf(call), () => this.readAnew(call))).head;
  }

  /** Reads it as it is now: whoever asks next gets it. */
  async readFresh(call: Call): Promise<void> {
    this.give(await this.kept.getFresh(keyOf(call), () => this.readAnew(call)));
  }

  /** @throws TourneyError NOT_FOUND where it belongs to none that was given lately */
  getPart(name: string): ReadyAnswer {
    for (const { parts } of this.given.toReversed()) {
      const part = parts.get(name);
      if (part !== undefined) return part;
    }
    throw new TourneyError("NOT_FOUND", {
      message: "These ballots are not held any more.",
      reason: "Others have come in, or the server was started again.",
      remedy: "Ask for the basis again: it names the parts that there are now.",
    });
  }

  private give(found: BasisAnswer): BasisAnswer {
    this.given = [...this.given.filter((one) => one !== found), found].slice(-MOST_GIVEN);
    return found;
  }

  private async readAnew(call: Call): Promise<BasisAnswer> {
    const held = new Map(this.given.flatMap((one) => [...one.parts]));
    const { text, parts } = await this.read(call, [...held.keys()]);
    const toPart = (name: string, packed: Uint8Array | null) =>
      packed === null ? held.get(name)! : new ReadyAnswer(packed, `"${name}"`);
    return {
      head: toTagged(text),
      parts: new Map(parts.map(([name, packed]) => [name, toPart(name, packed)])),
    };
  }
}

const keyOf = ({ params, query }: Call): string => `${params.editionId} ${query.pages}`;
