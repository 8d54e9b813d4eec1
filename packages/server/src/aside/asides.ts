import { createHash } from "node:crypto";
import { gzipSync } from "node:zlib";
import { API } from "@tourney/core/contract";
import { splitBasis } from "@tourney/core/standings";
import { PACKING } from "../http/ready-answer.js";
import type { ReportServices } from "../report-services.js";
import type { AnswerText, AsideCall, AsideName, Asked } from "./messages.js";

type WholeName = Exclude<AsideName, "getStandingsBasis">;
const HANDLERS: { [Name in WholeName]: (services: ReportServices, call: AsideCall<Name>) => Promise<object> } = {
  getVotingReport: ({ votingReport }, { params }) => votingReport.getReport(params.editionId),
  getStandings: ({ standings }, { params, query }) => standings.getStandings(params.editionId, query),
  getRatingsBySeeing: ({ standings }, { params }) => standings.getRatingsBySeeing(params.editionId),
  getRatingsOverTime: ({ standings }, { params, query }) => standings.getRatingsOverTime(params.editionId, query),
  getContests: ({ contests }, { params }) => contests.getResults(params.editionId),
  getStopping: ({ stopping }, { params }) => stopping.getState(params.editionId),
};

/** The answer of an operation, checked by its schema. */
export async function answerAside(
  services: ReportServices,
  { name, call, held }: Omit<Asked, "id">,
): Promise<AnswerText> {
  if (name === "getStandingsBasis") return answerBasis(services, call as AsideCall<typeof name>, held);
  const handle = HANDLERS[name] as (services: ReportServices, call: object) => Promise<object>;
  return { text: JSON.stringify(API[name].response.parse(await handle(services, call))), parts: [] };
}

/** The ballots of a basis are named by what they are. They are whole numbers by their types: to check each by its schema took 450 ms for 200,000 ballots. */
async function answerBasis(
  { standings }: ReportServices,
  call: AsideCall<"getStandingsBasis">,
  held: readonly string[],
): Promise<AnswerText> {
  const { rest, parts } = splitBasis(await standings.getBasis(call.params.editionId, call.query));
  const isHeld = new Set(held);
  const named: (readonly [name: string, packed: Uint8Array | null])[] = [];
  for (const part of parts) {
    const name = createHash("sha256").update(part.numbers).digest("base64url");
    named.push([name, isHeld.has(name) ? null : gzipSync(JSON.stringify(part.list()), PACKING)]);
  }
  const found = API.getStandingsBasis.response.parse({ ...rest, parts: named.map(([name]) => name) });
  return { text: JSON.stringify(found), parts: named };
}
