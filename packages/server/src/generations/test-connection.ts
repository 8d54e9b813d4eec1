import type { ConnectionTest, Settings } from "@tourney/core/contract";
import { trimEndOf } from "@tourney/core/text-ends";
import * as z from "zod";
import type { EntrantRow } from "../entrants/repository.js";
import type { KeyRing } from "../keys/key-ring.js";
import { callEndpoint } from "./call-endpoint.js";
import type { EndpointFetch } from "./endpoint-fetch.js";

const ModelList = z.object({ data: z.array(z.object({ id: z.string() })) });
const LIST_LIMIT_MS = 10_000;
const ANSWER_LIMIT_S = 30;
const MOST_MODELS = 200;

export type ConnectionTester = (entrant: EntrantRow) => Promise<ConnectionTest>;

/** Asks an endpoint for its models and for one short answer, with the entrant's own key and settings. */
export function createConnectionTester({
  keyRing,
  endpointFetch: fetch,
}: {
  keyRing: Pick<KeyRing, "take">;
  endpointFetch: EndpointFetch;
}): ConnectionTester {
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
    const taken = await keyRing.take(keyVariable, baseUrl);
    if ("refused" in taken) return failed("Its key was not sent.", taken.refused.message, taken.refused.remedy);
    const { key } = taken;
    const models = await listModels(baseUrl, key, fetch);
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
    const answer = await callEndpoint({ ...call, messages }, { shutdown: new AbortController().signal, fetch });
    if (!answer.ok) return { ...failed("The endpoint gave no answer.", answer.message, answer.remedy), models };
    const latencyMs = answer.firstTokenMs ?? answer.totalMs;
    return { ok: true, latencyMs, models, reportedModel: answer.reportedModel, error: null };
  };
}

/** The models an endpoint lists; none when it has no list, which many have not. */
async function listModels(baseUrl: string, key: string | null, fetch: EndpointFetch): Promise<string[]> {
  try {
    const response = await fetch(`${trimEndOf(baseUrl, /\//)}/models`, {
      headers: key === null ? {} : { Authorization: `Bearer ${key}`, "x-api-key": key },
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
