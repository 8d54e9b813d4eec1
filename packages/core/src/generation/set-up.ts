import type { EntrantSetUp } from "../contract/index.js";
import { toCanonicalJson } from "../suite/canonical-json.js";

/**
 * What an entrant's answers depend on, as one text: equal texts, one version. How long an endpoint is waited for, how many requests it takes
 * at once and which key pays for them change no answer.
 */
export function describeSetUp({ endpoint, model, settings }: EntrantSetUp): string {
  const sent = Object.fromEntries(Object.entries(settings).filter(([name]) => name !== "timeLimits"));
  const baseUrl = endpoint.protocol === "by-hand" ? null : endpoint.baseUrl;
  return toCanonicalJson({ protocol: endpoint.protocol, baseUrl, model, settings: sent });
}
