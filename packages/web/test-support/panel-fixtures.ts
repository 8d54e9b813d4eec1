import type { Panel, PanelVoter } from "@tourney/core/contract";
import { EDITION, id } from "./fixtures.js";

/** A voter of a panel, by a number of its own. */
export const voter = (n: number, name: string, more: Partial<PanelVoter> = {}): PanelVoter => ({
  id: id(n),
  name,
  sample: false,
  isLead: false,
  url: null,
  revoked: false,
  leftOut: null,
  ballots: 10,
  skipped: 0,
  sharesPlaceWith: 0,
  lastBallotAt: "2026-11-26T00:00:00.000Z",
  ...more,
});
export const PANEL: Panel = {
  id: id(60),
  editionId: EDITION.id,
  title: "Friends",
  quota: 20,
  message: "Which would you hang up?",
  closesAt: null,
  asksReasons: false,
  brokenRule: "lose",
  undeliveredRule: "lose",
  contest: "entrants",
  step: 1,
  newcomerId: null,
  promptIds: null,
  entrantIds: null,
  url: "http://localhost/vote/x",
  linkOpen: true,
  joinsRefused: 0,
  sample: false,
  createdAt: "2026-11-26T00:00:00.000Z",
  ballots: 20,
  voters: [voter(61, "Una"), voter(62, "", { isLead: true, leftOut: "not blind" })],
};
