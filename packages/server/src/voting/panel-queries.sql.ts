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
    (SELECT count(*)::int FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
      WHERE v.panel_id = p.id AND b.voided_at IS NULL) AS ballots,
    coalesce((SELECT json_agg(json_build_object('id', v.id, 'name', v.name, 'sample', v.sample, 'isLead', v.is_lead,
        'personalToken', v.personal_token, 'revoked', v.revoked_at IS NOT NULL, 'leftOut', v.left_out_why,
        'ballots', t.ballots, 'skipped', t.skipped,
        'sharesPlaceWith', coalesce(s.voters - 1, 0),
        'lastBallotAt', to_char(t.last AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY v.created_at, v.name)
      FROM voters v LEFT JOIN (SELECT panel_id, joined_from, count(*)::int AS voters FROM voters WHERE joined_from IS NOT NULL
          GROUP BY 1, 2) s ON s.panel_id = v.panel_id AND s.joined_from = v.joined_from
        CROSS JOIN LATERAL (SELECT count(b.id)::int AS ballots, max(b.cast_at) AS last,
          count(*) FILTER (WHERE o.skipped_at IS NOT NULL)::int AS skipped
        FROM bouts o LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL WHERE o.voter_id = v.id) t
      WHERE v.panel_id = p.id), '[]'::json) AS voters
  FROM panels p`;

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
