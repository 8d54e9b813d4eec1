/** An entry that may be shown: one take of one prompt by one entrant. */
export interface Candidate {
  entryId: string;
  promptId: string;
  entrantId: string;
}

/** What a panel may show, found by prompt and entrant. */
export class Exhibition {
  readonly prompts: readonly string[];
  readonly entrants: readonly string[];
  private readonly entries = new Map<string, Candidate[]>();

  constructor(candidates: readonly Candidate[]) {
    for (const candidate of candidates) {
      const key = `${candidate.promptId} ${candidate.entrantId}`;
      const takes = this.entries.get(key);
      if (takes) takes.push(candidate);
      else this.entries.set(key, [candidate]);
    }
    this.prompts = [...new Set(candidates.map(({ promptId }) => promptId))];
    this.entrants = [...new Set(candidates.map(({ entrantId }) => entrantId))];
  }

  /** The takes of an entrant on a prompt. */
  takesOf = (promptId: string, entrantId: string): readonly Candidate[] =>
    this.entries.get(`${promptId} ${entrantId}`) ?? [];

  has = (promptId: string, entrantId: string): boolean => this.entries.has(`${promptId} ${entrantId}`);
}
