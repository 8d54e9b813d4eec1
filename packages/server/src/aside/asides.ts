import { API } from "@tourney/core/contract";
import type { Services } from "../services.js";
import type { AsideCall, AsideName } from "./messages.js";

const HANDLERS: { [Name in AsideName]: (services: Services, call: AsideCall<Name>) => Promise<object> } = {
  getVotingReport: ({ votingReport }, { params }) => votingReport.getReport(params.editionId),
  getStandings: ({ standings }, { params, query }) => standings.getStandings(params.editionId, query),
  getStandingsBasis: ({ standings }, { params, query }) => standings.getBasis(params.editionId, query),
  getRatingsBySeeing: ({ standings }, { params }) => standings.getRatingsBySeeing(params.editionId),
  getRatingsOverTime: ({ standings }, { params, query }) => standings.getRatingsOverTime(params.editionId, query),
  getContests: ({ contests }, { params }) => contests.getResults(params.editionId),
  getStopping: ({ stopping }, { params }) => stopping.getState(params.editionId),
};

/** The answer of an operation as it goes over the wire, checked by its schema. */
export async function answerAside(services: Services, name: AsideName, call: object): Promise<string> {
  const handle = HANDLERS[name] as (services: Services, call: object) => Promise<object>;
  return JSON.stringify(API[name].response.parse(await handle(services, call)));
}
