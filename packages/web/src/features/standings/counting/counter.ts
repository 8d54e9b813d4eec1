import { Problem, type PromptRatings, type Standings, StandingsBasis, type WhatCounts } from "@tourney/core/contract";
import { countBasis, prepareBasis, type PreparedBasis } from "@tourney/core/standings";

/** What can be chosen from. */
export type Choices = Pick<StandingsBasis, "prompts" | "panels" | "voters" | "otherPages" | "pages"> & {
  ballots: number;
};

/** What went wrong, as the server said it; null where it said nothing that can be read. */
export type LoadFailure = Pick<Problem, "code" | "detail" | "remedy" | "requestId"> | null;

/** Others are let in after so long. */
const PIECE_MS = 30;

/**
 * Holds an edition's ballots and counts them by whatever is chosen. It lives in a worker: the page stays free however many ballots there are.
 */
export class Counter {
  private basis: PreparedBasis | null = null;
  private ratePrompts: (() => Generator<undefined, PromptRatings>) | null = null;

  /** Reads the ballots, in place of those that are held. */
  async load(address: string): Promise<{ choices: Choices } | { failure: LoadFailure }> {
    const answer = await fetch(address).catch(() => null);
    if (answer === null) return { failure: null };
    const body: unknown = await answer.json().catch(() => null);
    if (!answer.ok) {
      const problem = Problem.safeParse(body);
      return { failure: problem.success ? problem.data : null };
    }
    return this.hold(StandingsBasis.parse(body));
  }

  protected hold(basis: StandingsBasis): Promise<{ choices: Choices }> {
    this.basis = prepareBasis(basis);
    const { prompts, panels, voters, otherPages, pages, ballots } = this.basis;
    return Promise.resolve({ choices: { prompts, panels, voters, otherPages, pages, ballots: ballots.lean.length } });
  }

  /** @returns null before the ballots are there, of the pages that are asked for. */
  count(counts: WhatCounts): Standings | null {
    if (this.basis === null || this.basis.pages !== counts.pages) return null;
    const { standings, ratePrompts } = countBasis(this.basis, counts);
    this.ratePrompts = ratePrompts;
    return standings;
  }

  /** Rates on each prompt what was counted last; null where something else has been counted meanwhile. */
  async rateByPrompt(): Promise<PromptRatings | null> {
    const asked = this.ratePrompts;
    const steps = asked?.();
    let since = performance.now();
    while (steps !== undefined && this.ratePrompts === asked) {
      const { done, value } = steps.next();
      if (done === true) return value;
      if (performance.now() - since < PIECE_MS) continue;
      await new Promise((resolve) => setTimeout(resolve));
      since = performance.now();
    }
    return null;
  }
}
