import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import {
  EntrantInput,
  Price,
  PromptDefinition,
  Settings,
  Usage,
  type Verdict,
  type Wording,
} from "../contract/index.js";
import { wordingOf } from "../suite/index.js";
import {
  composeMessages,
  composeRequestText,
  computeCostUsd,
  describeSetUp,
  estimateCell,
  findUnlikeness,
  GENERATION_STATES,
  type GenerationEvent,
  IN_FLIGHT,
  nextGenerationState,
  outcomeOfAnswer,
  parseRetryAfterMs,
  planFollowing,
  planRetryMs,
  REPLANNABLE,
  stateAfter,
  statesBefore,
} from "./index.js";

const POLICY = { maxAttempts: 4, firstDelayMs: 1000, longestDelayMs: 3000 };

describe("planRetryMs", () => {
  it("doubles the wait with jitter up to its longest, then gives up", () => {
    const random = createRandom(1);
    const waits = [1, 2, 3, 4].map((attempts) =>
      planRetryMs({ cause: "server_error", attempts, retryAfterMs: null }, POLICY, random),
    );
    [1000, 2000, 3000].forEach((most, i) => {
      expect(waits[i]).toBeLessThanOrEqual(most);
      expect(waits[i]).toBeGreaterThanOrEqual(most / 2);
    });
    expect(waits[3]).toBeNull();
  });
  it("waits as long as the endpoint asks", () => {
    expect(planRetryMs({ cause: "rate_limited", attempts: 1, retryAfterMs: 9000 }, POLICY, createRandom(1))).toBe(9000);
  });
  it("waits for minutes, and not for a day", () => {
    const wait = (retryAfterMs: number) =>
      planRetryMs({ cause: "rate_limited", attempts: 1, retryAfterMs }, POLICY, createRandom(1));
    expect(wait(600_000)).toBe(600_000);
    expect(wait(86_400_000)).toBeNull();
  });
  it.each(["unauthorized", "bad_request", "key_missing", "bad_response"] as const)(
    "does not repeat what would fail the same way: %s",
    (cause) => {
      expect(planRetryMs({ cause, attempts: 1, retryAfterMs: null }, POLICY, createRandom(1))).toBeNull();
    },
  );
});

describe("parseRetryAfterMs", () => {
  it("reads seconds and dates, and nothing else", () => {
    const now = Date.parse("2026-01-01T00:00:00Z");
    expect(parseRetryAfterMs("2", now)).toBe(2000);
    expect(parseRetryAfterMs("Thu, 01 Jan 2026 00:00:30 GMT", now)).toBe(30_000);
    expect(parseRetryAfterMs("soon", now)).toBeNull();
    expect(parseRetryAfterMs(null, now)).toBeNull();
  });
});

describe("computeCostUsd", () => {
  const AT = "2026-05-01T10:00:00Z";
  const price = (more: object = {}) => Price.parse({ input: 3, output: 15, ...more });
  const usage = (more: object = {}) => Usage.parse({ inputTokens: 1000, outputTokens: 2000, ...more });
  it("prices a million tokens, and knows when it does not know", () => {
    expect(computeCostUsd(usage(), price(), AT)).toBeCloseTo(0.033, 12);
    expect(computeCostUsd(usage({ inputTokens: null }), price(), AT)).toBeNull();
    expect(computeCostUsd(usage(), null, AT)).toBeNull();
  });
  it("takes cached input, reasoning and each request at their own price", () => {
    const split = usage({ cachedInputTokens: 400, reasoningTokens: 500 });
    expect(computeCostUsd(split, price(), AT)).toBeCloseTo(0.033, 12);
    const prices = price({ cachedInput: 1, reasoning: 20, perRequest: 0.5 });
    expect(computeCostUsd(split, prices, AT)).toBeCloseTo((600 * 3 + 400 * 1 + 1500 * 15 + 500 * 20) / 1e6 + 0.5, 12);
  });
  it("takes the price of the day, in its currency", () => {
    const prices = [
      price({ validUntil: "2026-04-30" }),
      price({ input: 6, currency: "EUR", usdRate: 2, validFrom: "2026-05-01" }),
    ];
    expect(computeCostUsd(usage(), prices, "2026-04-30T23:59:59Z")).toBeCloseTo(0.033, 12);
    expect(computeCostUsd(usage(), prices, AT)).toBeCloseTo((6000 + 30_000) * 2e-6, 12);
    expect(computeCostUsd(usage(), price({ validFrom: "2027-01-01" }), AT)).toBeNull();
  });
});

describe("planFollowing", () => {
  const policy = { continuations: 2, refusalRetries: 1 };
  const plan = (verdict: Verdict, finishReason: string, used = { continuations: 0, refusalRetries: 0 }) =>
    planFollowing({ verdict, finishReason, hasText: true }, used, policy);
  it("continues what was cut at the limit, and only so often", () => {
    expect(plan("truncated", "length")).toBe("continuation");
    expect(plan("no_artifact", "max_tokens")).toBe("continuation");
    expect(plan("truncated", "length", { continuations: 2, refusalRetries: 0 })).toBeNull();
    expect(plan("ok", "length")).toBeNull();
    expect(plan("truncated", "stop")).toBeNull();
  });
  it("does not pay again for what reasoning alone brought to the limit", () => {
    const used = { continuations: 0, refusalRetries: 0 };
    expect(planFollowing({ verdict: "empty", finishReason: "length", hasText: false }, used, policy)).toBeNull();
  });
  it("asks again after a refusal or an empty answer", () => {
    expect(plan("refusal", "stop")).toBe("again");
    expect(plan("empty", "stop", { continuations: 0, refusalRetries: 1 })).toBeNull();
  });
});

describe("outcomeOfAnswer", () => {
  it("tells a wrong thing from an answer", () => {
    const ruleBreaks = [{ rule: "language" as const, message: "", file: "", start: 0, end: 0 }];
    expect(outcomeOfAnswer({ verdict: "ok", kind: "html", ruleBreaks })).toBe("wrong_thing");
    expect(outcomeOfAnswer({ verdict: "ok", kind: "html", ruleBreaks: [] })).toBe("answered");
    expect(outcomeOfAnswer({ verdict: "refusal", kind: "none", ruleBreaks: [] })).toBe("refused");
  });
  it.each([
    ["content_filter", "refused"],
    ["length", "truncated"],
    ["stop", "empty"],
  ])("tells an empty answer by why it ended: %s", (finishReason, outcome) => {
    expect(outcomeOfAnswer({ verdict: "empty", kind: "none", ruleBreaks: [], finishReason })).toBe(outcome);
  });
});

describe("findUnlikeness", () => {
  const entrant = (key: string, settings: object = {}, host = "a.example", model = key) =>
    EntrantInput.parse({
      key,
      name: key.toUpperCase(),
      model,
      settings,
      endpoint: { protocol: "chat-completions", baseUrl: `https://${host}/v1` },
    });
  it("finds nothing among alike ones", () => {
    expect(findUnlikeness([entrant("a", { temperature: 1 }), entrant("b", { temperature: 1 }, "b.example")])).toEqual(
      [],
    );
  });
  it("finds reasoning on and off, a lone system prompt, and one model on two hosts", () => {
    const found = findUnlikeness([
      entrant("a", { reasoningEffort: "high" }, "a.example", "m"),
      entrant("b", { reasoningBudget: 0, systemPrompt: "Be good." }, "b.example", "m"),
    ]);
    expect(found.map(({ setting }) => setting)).toEqual(["reasoning", "systemPrompt", "host"]);
    expect(found[0]!.message).toBe("Reasoning is on for A; off for B.");
  });
});

describe("estimateCell", () => {
  const snapshot = { settings: Settings.parse({ maxTokens: 2000 }), prices: null };
  const at = "2026-01-01T00:00:00Z";
  it("goes by earlier answers where there are any, and says so", () => {
    const earlier = { inputTokens: 90, outputTokens: 700, totalMs: 4000, answers: 3 };
    expect(estimateCell({ requestLength: 400, snapshot, at }, earlier)).toMatchObject({
      inputTokens: 100,
      outputTokens: 700,
      seconds: 4,
      basis: "earlier answers",
    });
    const none = { inputTokens: null, outputTokens: null, totalMs: null, answers: 0 };
    expect(estimateCell({ requestLength: 400, snapshot, at }, none)).toMatchObject({
      outputTokens: 2000,
      costUsd: null,
      basis: "defaults",
    });
  });
});

const wording = (more: Partial<PromptDefinition>): Wording =>
  wordingOf(
    PromptDefinition.parse({
      ...{
        key: "a",
        title: "A",
        kind: "drawing",
        summary: "Look.",
        text: "Draw.",
        motion: false,
        watchpoints: ["It works"],
      },
      ...more,
    }),
  );

describe("composeRequestText", () => {
  it("puts the rules into words after the prompt's own text", () => {
    const text = composeRequestText(
      wording({
        text: "Draw.\n",
        viewport: { width: 640, height: 480 },
        rules: { singleFile: true, libraries: ["three"], framework: "allowed" },
      }),
    );
    expect(text).toMatch(/^Draw\.\n\n/);
    expect(text).toContain("one HTML or SVG file");
    expect(text).toContain("may be used: three");
    expect(text).toContain("640 × 480");
  });

  it("sends every starter file to the byte, named and fenced, whatever is in it", () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: "grapheme", maxLength: 60 }), { maxLength: 4 }), (texts) => {
        const starterFiles = texts.map((text, i) => ({ path: `data/part-${i}.json`, text: `${text}\n` }));
        const sent = composeRequestText(wording({ starterFiles }));
        for (const { path, text } of starterFiles) {
          const opening = new RegExp(`^${path}\\n(\`{3,})json$`, "m").exec(sent)!;
          const ticks = opening[1]!;
          const body = sent.slice(opening.index + opening[0].length + 1);
          expect(body.startsWith(`${text}${ticks}\n`)).toBe(true);
          expect(text).not.toContain(ticks);
        }
      }),
    );
  });

  it("does not ask for one file that holds everything when files are given beside it", () => {
    const starterFiles = [{ path: "data.json", text: "[]" }];
    expect(composeRequestText(wording({ starterFiles }))).toContain("holds everything else it needs");
    expect(composeRequestText(wording({}))).toContain("holds everything it needs");
  });
});

describe("composeMessages", () => {
  it("sends each turn with what was answered to it", () => {
    const asked = wording({ turns: [{ text: "Now animate it." }] });
    const answered = [{ turn: 1, round: 0, answer: "<svg/>", followUp: null }];
    const second = composeMessages({ wording: asked, turn: 2, answered, followUp: null });
    expect(second.map(({ role, content }) => `${role}: ${content.split("\n")[0]!}`)).toEqual([
      "user: Draw.",
      "assistant: <svg/>",
      "user: Now animate it.",
    ]);
    const mend = composeMessages({ wording: asked, turn: 1, answered, followUp: { kind: "mend", text: "It failed." } });
    expect(mend.at(-1)).toEqual({ role: "user", content: "It failed." });
  });
});

describe("what makes a version", () => {
  const endpoint = { protocol: "chat-completions", baseUrl: "http://127.0.0.1:9/v1", concurrency: 2 } as const;
  const setUp = (settings: object, more: object = {}) =>
    describeSetUp({ endpoint: { ...endpoint, ...more }, model: "m", settings: Settings.parse(settings) });

  it("is what answers depend on, and not how long or how often an endpoint is asked", () => {
    expect(setUp({ temperature: 0.5 })).not.toBe(setUp({}));
    expect(setUp({}, { baseUrl: "http://127.0.0.1:8/v1" })).not.toBe(setUp({}));
    expect(setUp({ timeLimits: { totalSeconds: 5 } })).toBe(setUp({}));
    expect(setUp({}, { concurrency: 9, keyVariable: "KEY" })).toBe(setUp({}));
  });
});

describe("the life of a generation", () => {
  const events: GenerationEvent[] = [
    ...(["released", "unreachable", "admitted", "recalled", "sent", "answered", "postponed", "failed"] as const),
    ...(["abandoned", "held", "cancelled", "requeued", "requeued to wait", "answered by hand"] as const),
  ];
  /** Written out apart from the table: what may follow on what. */
  const LEGAL: Record<string, string> = {
    "waiting released": "queued",
    "waiting unreachable": "cancelled",
    "waiting held": "held",
    "waiting cancelled": "cancelled",
    "queued admitted": "admitted",
    "queued held": "held",
    "queued cancelled": "cancelled",
    "admitted sent": "running",
    "admitted recalled": "queued",
    "admitted abandoned": "failed",
    "running abandoned": "failed",
    "admitted cancelled": "cancelled",
    "running sent": "running",
    "running answered": "answered",
    "running postponed": "queued",
    "running failed": "failed",
    "failed requeued": "queued",
    "failed requeued to wait": "waiting",
    "failed answered by hand": "answered",
    "cancelled requeued": "queued",
    "cancelled requeued to wait": "waiting",
    "cancelled answered by hand": "answered",
    "held requeued": "queued",
    "held requeued to wait": "waiting",
    "held cancelled": "cancelled",
    "held unreachable": "cancelled",
    "held answered by hand": "answered",
  };

  it("goes from each state by each event where the table says, and nowhere else", () => {
    for (const state of GENERATION_STATES)
      for (const event of events)
        expect(`${state} ${event} → ${nextGenerationState(state, event)}`).toBe(
          `${state} ${event} → ${LEGAL[`${state} ${event}`] ?? null}`,
        );
  });

  it("leads by one event to one state, whatever the state before", () => {
    for (const event of events) {
      expect(statesBefore(event).length).toBeGreaterThan(0);
      for (const state of statesBefore(event)) expect(nextGenerationState(state, event)).toBe(stateAfter(event));
    }
  });

  it("ends in an answer or can be asked again: no state is a dead end", () => {
    for (const state of GENERATION_STATES.filter((one) => one !== "answered"))
      expect(events.some((event) => nextGenerationState(state, event) !== null)).toBe(true);
    expect(IN_FLIGHT.filter((state) => REPLANNABLE.includes(state))).toEqual([]);
  });
});
