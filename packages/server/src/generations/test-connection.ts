import type { ConnectionTest, Settings } from "@tourney/core/contract";
import * as z from "zod";
import type { EntrantRow } from "../entrants/repository.js";
import type { ReadKey } from "../entrants/service.js";
import { callEndpoint } from "./call-endpoint.js";

const ModelList = z.object({ data: z.array(z.object({ id: z.string() })) });
const LIST_LIMIT_MS = 10_000;
const ANSWER_LIMIT_S = 30;
const MOST_MODELS = 200;

export type ConnectionTester = (entrant: EntrantRow) => Promise<ConnectionTest>;

/** Asks an endpoint for its models and for one short answer, with the entrant's own key and settings. */
export function createConnectionTester(readKey: ReadKey): ConnectionTester {
  return async (entrant) => {
    const failed = (what: string, why: string, remedy: string): ConnectionTest => ({
      ok: false,
      latencyMs: 0,
      models: [],
      reportedModel: null,
      error: { what, why, remedy },
    });
    const { protocol, keyVariable, baseUrl } = entrant.endpoint;
    if (protocol === "by-hand" || baseUrl === null) {
      return failed(
        "There is nothing to test.",
        "This entrant is reached by hand.",
        "Import its answers, or drop them on its cells on the wall.",
      );
    }
    const key = keyVariable === null ? null : readKey(keyVariable);
    if (keyVariable !== null && key === null) return failed(`${keyVariable} is not set.`, ...KEY_MISSING);
    const models = await listModels(baseUrl, key);
    // One short answer: enough to see that key, model id and settings are taken.
    const settings: Settings = {
      ...entrant.settings,
      maxTokens: Math.max(16, (entrant.settings.reasoningBudget ?? 0) + 16),
      timeLimits: {
        firstTokenSeconds: ANSWER_LIMIT_S,
        betweenTokensSeconds: ANSWER_LIMIT_S,
        totalSeconds: ANSWER_LIMIT_S,
      },
    };
    const call = { protocol, baseUrl, model: entrant.model, key, settings };
    const messages = [{ role: "user" as const, content: "Answer with the word ready." }];
    const answer = await callEndpoint({ ...call, messages }, new AbortController().signal);
    if (!answer.ok) return { ...failed("The endpoint gave no answer.", answer.message, answer.remedy), models };
    const latencyMs = answer.firstTokenMs ?? answer.totalMs;
    return { ok: true, latencyMs, models, reportedModel: answer.reportedModel, error: null };
  };
}

/** Why and what to do when an entrant's key is not in the environment. */
export const KEY_MISSING = [
  "The entrant names this environment variable for its key. Only names that end in _KEY or _TOKEN are read, and those that TOURNEY_KEY_NAMES lists.",
  "Set it where Tourney is started, restart, and retry. Nothing was sent.",
] as const;

/** The models an endpoint lists; none when it has no list, which many have not. */
async function listModels(baseUrl: string, key: string | null): Promise<string[]> {
  try {
    const response = await fetch(`${baseUrl.replace(/\/+$/, "")}/models`, {
      headers: key === null ? {} : { Authorization: `Bearer ${key}`, "x-api-key": key },
      // Another host is not where the lead said that the key may go.
      redirect: "error",
      signal: AbortSignal.timeout(LIST_LIMIT_MS),
    });
    return ModelList.parse(await response.json())
      .data.slice(0, MOST_MODELS)
      .map(({ id }) => id);
  } catch {
    // The answer to the test message tells what is wrong, if anything is.
    return [];
  }
}
