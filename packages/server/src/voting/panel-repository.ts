import { Panel, type PanelChange, type PanelInput, PanelVoter } from "@tourney/core/contract";
import * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const VoterInPanel = z.object({ ...PanelVoter.omit({ url: true }).shape, personalToken: z.string().nullable() });
const PanelRow = z.object({
  ...Panel.omit({ url: true, voters: true }).shape,
  token: z.string(),
  createdAt: isoDate,
  closesAt: isoDate.nullable(),
  voters: z.array(VoterInPanel),
});
export type PanelRow = z.infer<typeof PanelRow>;

/** Instants inside aggregated JSON come as text with the server's offset; they leave as ISO in UTC. */
const SELECT = `
  SELECT p.id, p.edition_id AS "editionId", p.title, p.message, p.quota, p.token, p.sample, p.created_at AS "createdAt",
    p.prompt_ids AS "promptIds", p.entrant_ids AS "entrantIds", p.closes_at AS "closesAt", p.asks_reasons AS "asksReasons",
    p.broken_rule AS "brokenRule", p.link_closed_at IS NULL AS "linkOpen",
    (SELECT count(*)::int FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
      WHERE v.panel_id = p.id AND b.voided_at IS NULL) AS ballots,
    coalesce((SELECT json_agg(json_build_object('id', v.id, 'name', v.name, 'sample', v.sample, 'isLead', v.is_lead,
        'personalToken', v.personal_token, 'revoked', v.revoked_at IS NOT NULL, 'leftOut', v.left_out_why,
        'ballots', t.ballots, 'skipped', t.skipped,
        'lastBallotAt', to_char(t.last AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY v.created_at, v.name)
      FROM voters v CROSS JOIN LATERAL (SELECT count(b.id)::int AS ballots, max(b.cast_at) AS last,
          count(*) FILTER (WHERE o.skipped_at IS NOT NULL)::int AS skipped
        FROM bouts o LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL WHERE o.voter_id = v.id) t
      WHERE v.panel_id = p.id), '[]'::json) AS voters
  FROM panels p`;

/** A panel as voters' requests need it: without its voters, at a cost that does not grow with them. */
const BoothPanel = z.object({
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

const settings = (change: PanelChange) => [
  change.title,
  change.message,
  change.quota,
  change.closesAt,
  change.asksReasons,
  change.brokenRule,
  change.promptIds,
  change.entrantIds,
];

export function createPanelRepository(db: Database) {
  const find = async (id: string): Promise<PanelRow | null> => {
    const [row] = await db.select(PanelRow, `${SELECT} WHERE p.id = $1`, [id]);
    return row ?? null;
  };
  return {
    find,
    async findForBooth(token: string): Promise<BoothPanel | null> {
      const [row] = await db.select(
        BoothPanel,
        `SELECT p.id, p.edition_id AS "editionId", p.title, p.message, p.quota, p.token, p.sample, p.asks_reasons AS "asksReasons",
           p.link_closed_at IS NULL AS "linkOpen", coalesce(p.closes_at <= now(), false) AS closed
         FROM panels p WHERE p.token = $1`,
        [token],
      );
      return row ?? null;
    },
    list: (editionId: string) =>
      db.select(PanelRow, `${SELECT} WHERE p.edition_id = $1 ORDER BY p.created_at`, [editionId]),
    async add({ editionId, ...change }: PanelInput, token: string, sample: boolean): Promise<PanelRow> {
      const [row] = await db.select(
        z.object({ id: z.uuid() }),
        `INSERT INTO panels (edition_id, token, sample, title, message, quota, closes_at, asks_reasons, broken_rule, prompt_ids, entrant_ids)
         VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10::uuid[], $11::uuid[]) RETURNING id`,
        [editionId, token, sample, ...settings(change)],
      );
      return (await find(row!.id))!;
    },
    /** False when there is no such panel. */
    async change(id: string, change: PanelChange, transaction: Transaction): Promise<boolean> {
      const changed = await db.execute(
        `UPDATE panels SET title = $2, message = $3, quota = $4, closes_at = $5, asks_reasons = $6, broken_rule = $7,
           prompt_ids = $8::uuid[], entrant_ids = $9::uuid[] WHERE id = $1`,
        [id, ...settings(change)],
        transaction,
      );
      return changed === 1;
    },
    async setLinkOpen(id: string, open: boolean, transaction: Transaction): Promise<boolean> {
      const changed = await db.execute(
        "UPDATE panels SET link_closed_at = CASE WHEN $2 THEN NULL ELSE now() END WHERE id = $1",
        [id, open],
        transaction,
      );
      return changed === 1;
    },
    async addInvited(
      panelId: string,
      { name, token, tokenHash }: { name: string; token: string; tokenHash: string },
      transaction: Transaction,
    ): Promise<void> {
      await db.execute(
        "INSERT INTO voters (panel_id, name, personal_token, token_hash) VALUES ($1, $2, $3, $4)",
        [panelId, name, token, tokenHash],
        transaction,
      );
    },
    /** Resolves with the panel of the voter, or null when there is no such voter. */
    async setVoter(
      voterId: string,
      change: { revoked: boolean } | { leftOut: string | null },
      transaction: Transaction,
    ): Promise<string | null> {
      const [row] = await db.select(
        z.object({ panelId: z.uuid() }),
        "revoked" in change
          ? `UPDATE voters SET revoked_at = CASE WHEN $2 THEN now() ELSE NULL END WHERE id = $1 RETURNING panel_id AS "panelId"`
          : `UPDATE voters SET left_out_at = CASE WHEN $2::text IS NULL THEN NULL ELSE coalesce(left_out_at, now()) END, left_out_why = $2
             WHERE id = $1 RETURNING panel_id AS "panelId"`,
        [voterId, "revoked" in change ? change.revoked : change.leftOut],
        transaction,
      );
      return row?.panelId ?? null;
    },
    async setEntry(entryId: string, leftOut: string | null, transaction: Transaction): Promise<void> {
      await db.execute(
        leftOut === null
          ? "DELETE FROM booth_exclusions WHERE entry_id = $1"
          : `INSERT INTO booth_exclusions (entry_id, why) VALUES ($1, $2) ON CONFLICT (entry_id) DO UPDATE SET why = excluded.why`,
        leftOut === null ? [entryId] : [entryId, leftOut],
        transaction,
      );
    },
  };
}
export type PanelRepository = ReturnType<typeof createPanelRepository>;
