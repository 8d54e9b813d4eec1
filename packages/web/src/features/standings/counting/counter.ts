import {
  BasisPart,
  PartedBasis,
  Problem,
  type PromptRatings,
  type Standings,
  type StandingsBasis,
  type WhatCounts,
} from "@tourney/core/contract";
import type * as z from "zod";
import { countBasis, joinBasis, prepareBasis, type PreparedBasis } from "@tourney/core/standings";

/** What can be chosen from. */
export type Choices = Pick<StandingsBasis, "prompts" | "panels" | "voters" | "otherPages" | "pages"> & {
  ballots: number;
};

/** What went wrong, as the server said it; null where it said nothing that can be read. */
export type LoadFailure = Pick<Problem, "code" | "detail" | "remedy" | "requestId"> | null;

/** Others are let in after so long. */
const PIECE_MS = 30;
/** So often the names of the parts are fetched again where one of them was not there any more. */
const MOST_TRIES = 3;

type Fetched<T> = { found: T } | { failure: LoadFailure; status: number };

/** An answer that is not what the contract says, as from a server that is newer than the page, is a failure that says nothing. */
async function fetchJson<T>(
  address: string,
  schema: { safeParse: (body: unknown) => z.ZodSafeParseResult<T> },
): Promise<Fetched<T>> {
  const answer = await fetch(address).catch(() => null);
  if (answer === null) return { failure: null, status: 0 };
  const body: unknown = await answer.json().catch(() => null);
  if (answer.ok) {
    const { success, data } = schema.safeParse(body);
    return success ? { found: data } : { failure: null, status: answer.status };
  }
  const problem = Problem.safeParse(body);
  return { failure: problem.success ? problem.data : null, status: answer.status };
}

/**
 * Holds an edition's ballots and counts them by whatever is chosen. It lives in a worker: the page stays free however many ballots there are.
 */
export class Counter {
  private basis: PreparedBasis | null = null;
  /** Of the ballots, by their names. */
  private parts: ReadonlyMap<string, BasisPart> = new Map();
  private ratePrompts: (() => Generator<undefined, PromptRatings>) | null = null;

  /**
   * Reads the ballots, in place of those that are held: of these, only the parts that are new.
   *
   * @param address of the edition's basis
   */
  async load(address: string, pages: WhatCounts["pages"]): Promise<{ choices: Choices } | { failure: LoadFailure }> {
    for (let tries = 1; ; tries++) {
      const head = await fetchJson(`${address}?${new URLSearchParams({ pages })}`, PartedBasis);
      if ("failure" in head) return head;
      const { parts: names, ...rest } = head.found;
      const fetched = await Promise.all(names.map((name) => this.loadPart(address, name)));
      const failed = fetched.find((one) => "failure" in one);
      if (failed === undefined) {
        const parts = fetched.flatMap((one) => ("found" in one ? [one.found] : []));
        this.parts = new Map(names.map((name, index) => [name, parts[index]!]));
        return this.hold(joinBasis(rest, parts));
      }
      // Ballots have come in since the names were told, and a part is another one now.
      if (failed.status !== 404 || tries === MOST_TRIES) return failed;
    }
  }

  private async loadPart(address: string, name: string): Promise<Fetched<BasisPart>> {
    const held = this.parts.get(name);
    if (held !== undefined) return { found: held };
    return fetchJson(`${address}/parts/${name}`, BasisPart);
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
