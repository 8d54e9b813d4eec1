import { Panel, PanelVoter } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

const VoterInPanel = z.object({ ...PanelVoter.omit({ url: true }).shape, personalToken: z.string().nullable() });
export const PanelRow = z.object({
  ...Panel.omit({ url: true, voters: true }).shape,
  token: z.string(),
  createdAt: isoDate,
  closesAt: isoDate.nullable(),
  voters: z.array(VoterInPanel),
});
export type PanelRow = z.infer<typeof PanelRow>;

/** Instants inside aggregated JSON come as text with the server's offset; they leave as ISO in UTC. */
export const SELECT_PANELS = `
  SELECT p.id, p.edition_id AS "editionId", p.title, p.message, p.quota, p.token, p.sample, p.created_at AS "createdAt",
    p.prompt_ids AS "promptIds", p.entrant_ids AS "entrantIds", p.closes_at AS "closesAt", p.asks_reasons AS "asksReasons",
    p.broken_rule AS "brokenRule", p.undelivered_rule AS "undeliveredRule", p.link_closed_at IS NULL AS "linkOpen", p.joins_refused AS "joinsRefused",
    p.contest, p.step, p.newcomer_id AS "newcomerId",
    x.ballots, x.voters
  FROM panels p CROSS JOIN LATERAL (
    SELECT coalesce(sum(t.ballots), 0)::int AS ballots,
      coalesce(json_agg(json_build_object('id', v.id, 'name', v.name, 'sample', v.sample, 'isLead', v.is_lead,
        'personalToken', v.personal_token, 'revoked', v.revoked_at IS NOT NULL, 'leftOut', v.left_out_why,
        'ballots', coalesce(t.ballots, 0), 'skipped', coalesce(t.skipped, 0),
        'sharesPlaceWith', coalesce(s.voters - 1, 0),
        'lastBallotAt', to_char(t.last_ballot_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY v.created_at, v.name), '[]'::json) AS voters
    FROM voters v LEFT JOIN counted_voters t ON t.voter_id = v.id
      LEFT JOIN (SELECT joined_from, count(*)::int AS voters FROM voters WHERE panel_id = p.id AND joined_from IS NOT NULL GROUP BY 1) s
        ON s.joined_from = v.joined_from
    WHERE v.panel_id = p.id) x`;

/** A panel as voters' requests need it: without its voters, at a cost that does not grow with them. */
export const BoothPanel = z.object({
  id: z.uuid(),
  editionId: z.uuid(),
  title: z.string(),
  message: z.string(),
  quota: z.int(),
  token: z.string(),
  sample: z.boolean(),
  asksReasons: z.boolean(),
  linkOpen: z.boolean(),
  closed: z.boolean(),
});
export type BoothPanel = z.infer<typeof BoothPanel>;

export const BOOTH_PANEL = `
  SELECT p.id, p.edition_id AS "editionId", p.title, p.message, p.quota, p.token, p.sample, p.asks_reasons AS "asksReasons",
    p.link_closed_at IS NULL AS "linkOpen", coalesce(p.closes_at <= now(), false) AS closed
  FROM panels p WHERE p.token = $1`;
