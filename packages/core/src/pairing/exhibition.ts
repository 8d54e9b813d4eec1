/** An entry that may be shown: one take of one prompt by one entrant. */
export interface Candidate {
  entryId: string;
  promptId: string;
  competitorId: string;
  /** Entries of the same likeness look the same, so that nobody could prefer one: they are never paired. */
  likeness?: string | null;
  /** What it came from; two of different origins never meet, as a mended page and the first shot of another take. */
  origin?: string | null;
}

/** Two entrants, with their place among all pairs of an exhibition. */
export interface Pair {
  a: string;
  b: string;
  number: number;
}

/** Whether a pair has anything to meet in on a prompt, which is looked at when it is asked for first. */
const [NOT_LOOKED_AT, CAN_MEET, CANNOT_MEET] = [0, 1, 2];

/** What a panel may show, found by prompt and entrant. */
export class Exhibition {
  readonly prompts: readonly string[];
  readonly entrants: readonly string[];
  /** All that may meet. */
  readonly pairs: readonly Pair[];
  /** By prompt, and of each by the number of the pair. */
  private readonly meetings = new Map<string, Uint8Array>();
  private readonly allMeet = new Map<string, boolean>();
  /** By prompt and, of each, by competitor. */
  private readonly entries = new Map<string, Map<string, Candidate[]>>();

  /** @param mayMeet whether two sides may meet at all. */
  constructor(
    candidates: readonly Candidate[],
    private readonly mayMeet: (a: string, b: string) => boolean = () => true,
  ) {
    for (const candidate of candidates) {
      const onPrompt = this.entries.get(candidate.promptId) ?? new Map<string, Candidate[]>();
      this.entries.set(candidate.promptId, onPrompt);
      const takes = onPrompt.get(candidate.competitorId);
      if (takes) takes.push(candidate);
      else onPrompt.set(candidate.competitorId, [candidate]);
    }
    this.prompts = [...new Set(candidates.map(({ promptId }) => promptId))];
    this.entrants = [...new Set(candidates.map(({ competitorId }) => competitorId))];
    this.pairs = this.entrants
      .flatMap((a, i) => this.entrants.slice(i + 1).map((b) => ({ a, b })))
      .filter(({ a, b }) => mayMeet(a, b))
      .map((pair, number) => ({ ...pair, number }));
  }

  /** The pairs of takes of two entrants on a prompt that may meet: of one origin, and not alike to look at. */
  meetingsOf(promptId: string, a: string, b: string): (readonly [Candidate, Candidate])[] {
    if (!this.mayMeet(a, b)) return [];
    return this.takesOf(promptId, a).flatMap((first) =>
      this.takesOf(promptId, b).flatMap((second) => (areComparable(first, second) ? [[first, second] as const] : [])),
    );
  }

  /** Whether all pairs have something to meet in on a prompt. */
  canAllMeetOn(promptId: string): boolean {
    const known = this.allMeet.get(promptId) ?? this.pairs.every(this.canMeetOn(promptId));
    this.allMeet.set(promptId, known);
    return known;
  }

  /** Tells of pairs whether they have anything to meet in on a prompt. */
  canMeetOn(promptId: string): (pair: Pair) => boolean {
    const known = this.meetings.get(promptId) ?? new Uint8Array(this.pairs.length);
    this.meetings.set(promptId, known);
    return ({ a, b, number }) => {
      if (known[number] === NOT_LOOKED_AT) known[number] = this.haveMeeting(promptId, a, b) ? CAN_MEET : CANNOT_MEET;
      return known[number] === CAN_MEET;
    };
  }

  /** Whether `meetingsOf` a pair that may meet has any: mostly the first takes of the two do, and no others are looked at. */
  private haveMeeting(promptId: string, a: string, b: string): boolean {
    const takes = this.takesOf(promptId, b);
    return this.takesOf(promptId, a).some((first) => takes.some((second) => areComparable(first, second)));
  }

  private takesOf(promptId: string, competitorId: string): readonly Candidate[] {
    return this.entries.get(promptId)?.get(competitorId) ?? [];
  }
}

const areComparable = (a: Candidate, b: Candidate): boolean =>
  (a.origin ?? null) === (b.origin ?? null) && ((a.likeness ?? null) === null || a.likeness !== b.likeness);
