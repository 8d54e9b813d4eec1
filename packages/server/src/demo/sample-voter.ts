import { API, BallotReceipt, BoothQueue, type Kind, Problem } from "@tourney/core/contract";
import { createRandom, type Random } from "@tourney/core/random";
import { drawTaste, judge, type Taste } from "./taste.js";
import type { Looks } from "./looks.js";

/** What a voter sees of a bout. Null when there is nothing to be seen of it any more. */
export type ReadBout = (boutToken: string) => Promise<{ left: Looks; right: Looks; kind: Kind } | null>;

/** Names of the made-up island's people. */
const NAMES =
  "Isla Magnus Freya Callum Una Torquil Marsali Ranald Eilidh Sorley Ishbel Lachlan Morag Somerled Catriona".split(" ");
const INITIALS = ["", " B.", " D.", " M.", " T."];
export const nameVoter = (number: number): string =>
  `${NAMES[number % NAMES.length]!}${INITIALS[Math.floor(number / NAMES.length) % INITIALS.length]!}`;

const BALLOT_SEED = 1000;

/** A made-up voter: votes over the same HTTP API as people do, and keeps a cookie and nothing else. */
export class SampleVoter {
  private cookie = "";
  private queue: BoothQueue | null = null;
  private readonly random: Random;
  private readonly taste: Taste;
  private isJoined = false;
  cast = 0;

  constructor(
    private readonly panel: { origin: string; token: string },
    private readonly number: number,
    private readonly readBout: ReadBout,
  ) {
    this.random = createRandom(BALLOT_SEED + number);
    this.taste = drawTaste(number, this.random);
  }

  /** Casts the next ballot. @returns false when there is nothing to vote on for this voter now. */
  async vote(): Promise<boolean> {
    if (!this.isJoined) await this.join();
    const bout = this.queue?.bouts[0] ?? (await this.fetchQueue()).bouts[0];
    if (bout === undefined) return false;
    const seen = await this.readBout(bout.token);
    if (seen === null) {
      this.queue = null;
      return false;
    }
    const path = API.castBallot.path.replace(":boutToken", bout.token);
    this.queue = BallotReceipt.parse(await this.call("POST", path, judge(seen, this.taste, this.random))).queue;
    this.cast++;
    return true;
  }

  private async join(): Promise<void> {
    const path = API.joinPanel.path.replace(":panelToken", this.panel.token);
    await this.call("POST", path, { name: nameVoter(this.number), sample: true });
    this.isJoined = true;
  }

  private async fetchQueue(): Promise<BoothQueue> {
    const path = API.getBouts.path.replace(":panelToken", this.panel.token);
    return (this.queue = BoothQueue.parse(await this.call("GET", path)));
  }

  private async call(method: string, path: string, body?: unknown): Promise<unknown> {
    const response = await fetch(`${this.panel.origin}${path}`, {
      method,
      headers: {
        ...(body === undefined ? {} : { "Content-Type": "application/json" }),
        ...(this.cookie ? { Cookie: this.cookie } : {}),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const set = response.headers.getSetCookie()[0];
    if (set !== undefined) this.cookie = set.split(";")[0]!;
    const answer: unknown = await response.json();
    if (response.ok) return answer;
    const problem = Problem.safeParse(answer);
    throw new Error(problem.success ? problem.data.detail : `${response.status} from ${path}`);
  }
}
