import { describe, expect, it } from "vitest";
import * as z from "zod";
import { HABITS, type Habit } from "../../test-support/habits.js";
import { withRuns } from "../../test-support/with-runs.js";

const { server, enter, start, finish } = withRuns();

const Row = z.object({
  outcome: z.string().nullable(),
  detail: z.string().nullable(),
  costUsd: z.number().nullable(),
  costs: z.array(z.object({ usd: z.number().nullable(), isEstimate: z.boolean() })),
});

/** What came of asking an endpoint with a habit for one answer. */
async function ask({ answer, protocol }: Habit) {
  const more = protocol === undefined ? {} : { protocol };
  const { entrantId, fake } = await enter((response, attempt) => answer(response, attempt), {}, more);
  const { id } = await start(entrantId, { options: { continuations: 3, refusalRetries: 0 } });
  const { counts, failures } = await finish(id);
  const [row] = await server().db.select(
    Row,
    `SELECT g.outcome, g.outcome_detail AS detail, g.cost_usd::float AS "costUsd",
       (SELECT json_agg(json_build_object('usd', a.cost_usd, 'isEstimate', a.cost_is_estimate) ORDER BY a.number)
        FROM attempts a WHERE a.generation_id = g.id) AS costs
     FROM generations g WHERE g.run_id = $1`,
    [id],
  );
  const { outcome, detail, costUsd, costs } = row!;
  const known = costs.filter(({ usd }) => usd !== null && usd > 0);
  return {
    ends: counts.answered === 1 ? "answered" : "failed",
    requests: fake.requests.filter(({ method }) => method === "POST").length,
    cost: known.length === 0 ? "none" : known.some(({ isEstimate }) => isEstimate) ? "estimated" : "told",
    costUsd,
    outcome,
    words: [...failures.map(({ message, remedy }) => `${message} ${remedy}`), detail ?? ""].join("\n"),
  };
}

describe("an endpoint that", () => {
  it.each(HABITS.map((habit) => [habit.name, habit] as const))("%s", async (_name, habit) => {
    const { ends, requests, cost, costUsd, outcome, words } = await ask(habit);
    expect({ ends, requests, cost }, words).toEqual({ ends: habit.ends, requests: habit.requests, cost: habit.cost });
    if (cost !== "none") expect(costUsd).toBeGreaterThan(0);
    if (habit.outcome !== undefined) expect(outcome).toBe(habit.outcome);
    if (habit.says !== undefined) expect(words).toMatch(habit.says);
    expect(words).not.toContain("[object");
  });
});
