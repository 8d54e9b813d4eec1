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

/** What a panel may show, found by prompt and entrant. */
export class Exhibition {
  readonly prompts: readonly string[];
  readonly entrants: readonly string[];
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
  }

  /** The pairs of takes of two entrants on a prompt that may meet: of one origin, and not alike to look at. */
  meetingsOf(promptId: string, a: string, b: string): (readonly [Candidate, Candidate])[] {
    if (!this.mayMeet(a, b)) return [];
    return this.takesOf(promptId, a).flatMap((first) =>
      this.takesOf(promptId, b).flatMap((second) => (areComparable(first, second) ? [[first, second] as const] : [])),
    );
  }

  canMeet(promptId: string, a: string, b: string): boolean {
    if (!this.mayMeet(a, b)) return false;
    return this.takesOf(promptId, a).some((first) =>
      this.takesOf(promptId, b).some((second) => areComparable(first, second)),
    );
  }

  private takesOf(promptId: string, competitorId: string): readonly Candidate[] {
    return this.entries.get(promptId)?.get(competitorId) ?? [];
  }
}

const areComparable = (a: Candidate, b: Candidate): boolean =>
  (a.origin ?? null) === (b.origin ?? null) && ((a.likeness ?? null) === null || a.likeness !== b.likeness);
