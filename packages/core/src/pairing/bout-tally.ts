/** The same for either order of two. */
export const pairKey = (a: string, b: string): string => (a < b ? `${a}|${b}` : `${b}|${a}`);

const count = (counts: Map<string, number>, key: string, n: number) => counts.set(key, (counts.get(key) ?? 0) + n);

/** How often what was shown in a panel, by anyone: all that the choice of a bout needs of the others' bouts. */
export class BoutTally {
  private readonly prompts = new Map<string, number>();
  private readonly pairs = new Map<string, number>();
  private readonly pairsOnPrompt = new Map<string, number>();
  private readonly ordered = new Map<string, number>();
  private readonly entrants = new Map<string, number>();

  add(promptId: string, leftCompetitorId: string, rightCompetitorId: string, n = 1): void {
    const pair = pairKey(leftCompetitorId, rightCompetitorId);
    count(this.prompts, promptId, n);
    count(this.pairs, pair, n);
    count(this.pairsOnPrompt, `${promptId} ${pair}`, n);
    count(this.ordered, `${leftCompetitorId}|${rightCompetitorId}`, n);
    count(this.entrants, leftCompetitorId, n);
    count(this.entrants, rightCompetitorId, n);
  }

  onPrompt = (promptId: string): number => this.prompts.get(promptId) ?? 0;
  ofPair = (a: string, b: string): number => this.pairs.get(pairKey(a, b)) ?? 0;
  ofPairOnPrompt = (promptId: string, a: string, b: string): number =>
    this.pairsOnPrompt.get(`${promptId} ${pairKey(a, b)}`) ?? 0;
  ofEntrant = (id: string): number => this.entrants.get(id) ?? 0;
  /** How much more often a stood left of b than right of it. */
  sideLead = (a: string, b: string): number =>
    (this.ordered.get(`${a}|${b}`) ?? 0) - (this.ordered.get(`${b}|${a}`) ?? 0);
}
