/** The same for either order of two. */
export const pairKey = (a: string, b: string): string => (a < b ? `${a}|${b}` : `${b}|${a}`);

/** Counts by two names, in maps within a map: one key made of both names would cost a new string at each lookup. */
class PairCounts {
  private readonly counts = new Map<string, Map<string, number>>();

  add(a: string, b: string, n: number): void {
    const own = this.counts.get(a) ?? new Map<string, number>();
    this.counts.set(a, own.set(b, (own.get(b) ?? 0) + n));
  }
  get = (a: string, b: string): number => this.of(a).get(b) ?? 0;
  of = (a: string): ReadonlyMap<string, number> => this.counts.get(a) ?? NONE;
}
const NONE: ReadonlyMap<string, number> = new Map();

const count = (counts: Map<string, number>, key: string, n: number) => counts.set(key, (counts.get(key) ?? 0) + n);

/** How often what was shown in a panel, by anyone: all that the choice of a bout needs of the others' bouts. */
export class BoutTally {
  private readonly prompts = new Map<string, number>();
  /** Left and right of each bout. */
  private readonly ordered = new PairCounts();
  /** In either order, so that one look tells how often two met. */
  private readonly met = new PairCounts();
  private readonly metOnPrompt = new Map<string, PairCounts>();
  private readonly entrants = new Map<string, number>();

  add(promptId: string, leftCompetitorId: string, rightCompetitorId: string, n = 1): void {
    count(this.prompts, promptId, n);
    this.ordered.add(leftCompetitorId, rightCompetitorId, n);
    const onPrompt = this.metOnPrompt.get(promptId) ?? new PairCounts();
    this.metOnPrompt.set(promptId, onPrompt);
    for (const counts of [this.met, onPrompt]) {
      counts.add(leftCompetitorId, rightCompetitorId, n);
      counts.add(rightCompetitorId, leftCompetitorId, n);
    }
    count(this.entrants, leftCompetitorId, n);
    count(this.entrants, rightCompetitorId, n);
  }

  onPrompt = (promptId: string): number => this.prompts.get(promptId) ?? 0;
  ofPair = (a: string, b: string): number => this.met.get(a, b);
  /** How often one met each of the others. */
  ofPairsWith = (a: string): ReadonlyMap<string, number> => this.met.of(a);
  ofPairOnPrompt = (promptId: string, a: string, b: string): number => this.metOnPrompt.get(promptId)?.get(a, b) ?? 0;
  ofEntrant = (id: string): number => this.entrants.get(id) ?? 0;
  /** How much more often a stood left of b than right of it. */
  sideLead = (a: string, b: string): number => this.ordered.get(a, b) - this.ordered.get(b, a);
}
