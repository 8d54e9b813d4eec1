import { get } from "node:http";
import { text } from "node:stream/consumers";
import { API, BoothQueue, Problem, type Reason } from "@tourney/core/contract";
import { createRandom, type Random } from "@tourney/core/random";
import { pageInStage } from "@tourney/stage";
import { drawTaste, judge, type Taste } from "./judge.js";

const REASONS: readonly Reason[] = ["looks", "motion", "controls", "follows-prompt", "legible", "bugs"];
/** Names of the made-up island's people. */
const NAMES = ["Isla", "Magnus", "Freya", "Callum", "Una", "Torquil", "Marsali", "Ranald", "Eilidh", "Sorley"];

export interface VoteOptions {
  /** The panel's invitation: http://host:port/vote/TOKEN */
  panelUrl: string;
  voters: number;
  /** The number of the first voter: each number has its own name, taste and luck. */
  first: number;
  /** At most this many ballots a voter; the panel's quota holds too. */
  ballots: number;
  seed: number;
  onProgress: (cast: number) => void;
}

/** One voter's browser, as far as voting goes: it keeps a cookie and nothing else. */
class VoterClient {
  private cookie = "";

  constructor(private readonly origin: string) {}

  async call(method: string, path: string, body?: unknown): Promise<unknown> {
    const response = await fetch(`${this.origin}${path}`, {
      method: method.toUpperCase(),
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

/** Casts the ballots of made-up voters through the same HTTP API that people use. Resolves with how many were cast. */
export async function castSampleBallots({
  panelUrl,
  voters,
  first,
  ballots,
  seed,
  onProgress,
}: VoteOptions): Promise<number> {
  const url = new URL(panelUrl);
  const panelToken = url.pathname.split("/").at(-1)!;
  let cast = 0;
  for (let voter = first; voter < first + voters; voter++) {
    const random = createRandom(seed * 1000 + voter);
    const client = new VoterClient(url.origin);
    const name = NAMES[voter % NAMES.length]!;
    await client.call("post", API.joinPanel.path.replace(":panelToken", panelToken), { name, sample: true });
    const taste = drawTaste(random);
    for (let i = 0; i < ballots; i++) {
      const queue = BoothQueue.parse(await client.call("get", API.getBouts.path.replace(":panelToken", panelToken)));
      const bout = queue.bouts[0];
      if (!bout) break;
      const [left, right] = await Promise.all([readStage(bout.leftUrl), readStage(bout.rightUrl)]);
      const ballot = {
        ...judge(left, right, taste, random),
        reasons: drawReasons(random),
        dwellMs: drawDwellMs(taste, random),
      };
      await client.call("post", API.castBallot.path.replace(":boutToken", bout.token), ballot);
      onProgress(++cast);
    }
  }
  return cast;
}

/** A stage's page with the files it brings, as one text. */
async function readStage(url: string): Promise<string> {
  const page = pageInStage(await fetchText(new URL(url)));
  const parts = [...page.matchAll(/(?:src|href)="([\w.-]+\.(?:css|js))"/g)].map(([, path]) => new URL(path!, url));
  return [page, ...(await Promise.all(parts.map(fetchText)))].join("\n");
}

/** Names below localhost are this machine in every browser, but not for Node everywhere. */
function fetchText(url: URL): Promise<string> {
  const isLocal = url.hostname.endsWith(".localhost");
  const options = {
    host: isLocal ? "127.0.0.1" : url.hostname,
    port: url.port,
    path: url.pathname,
    headers: { Host: url.host },
  };
  return new Promise((resolve, reject) => {
    get(options, (response) => resolve(text(response))).on("error", reject);
  });
}

function drawReasons(random: Random): Reason[] {
  return REASONS.filter(() => random() < 0.3);
}

/** Sample voters need no time; what is stored is drawn, and is part of the sample data. */
function drawDwellMs({ noise }: Taste, random: Random): number {
  return Math.round(6000 + random() * 20_000 * (0.5 + noise));
}
