import { Panel, type PanelInput } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { isoDate } from "../db/row.js";

const PanelRow = z.object({ ...Panel.omit({ url: true }).shape, token: z.string(), createdAt: isoDate });
export type PanelRow = z.infer<typeof PanelRow>;

/** Instants inside aggregated JSON come as text with the server's offset; they leave as ISO in UTC. */
const SELECT = `
  SELECT p.id, p.edition_id AS "editionId", p.title, p.message, p.quota, p.token, p.sample, p.created_at AS "createdAt",
    (SELECT count(*)::int FROM ballots b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
      WHERE v.panel_id = p.id AND b.voided_at IS NULL) AS ballots,
    coalesce((SELECT json_agg(json_build_object('id', v.id, 'name', v.name, 'sample', v.sample, 'ballots', t.ballots,
        'lastBallotAt', to_char(t.last AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY v.created_at)
      FROM voters v CROSS JOIN LATERAL (SELECT count(b.id)::int AS ballots, max(b.cast_at) AS last
        FROM bouts o JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL WHERE o.voter_id = v.id) t
      WHERE v.panel_id = p.id), '[]'::json) AS voters
  FROM panels p`;

export function createPanelRepository(db: Database) {
  const find = async (column: "id" | "token", value: string): Promise<PanelRow | null> => {
    const [row] = await db.select(PanelRow, `${SELECT} WHERE p.${column} = $1`, [value]);
    return row ?? null;
  };
  return {
    find,
    list: (editionId: string) =>
      db.select(PanelRow, `${SELECT} WHERE p.edition_id = $1 ORDER BY p.created_at`, [editionId]),
    async add({ editionId, title, message, quota }: PanelInput, token: string, sample: boolean): Promise<PanelRow> {
      await db.execute(
        "INSERT INTO panels (edition_id, title, message, quota, token, sample) VALUES ($1, $2, $3, $4, $5, $6)",
        [editionId, title, message, quota, token, sample],
      );
      return (await find("token", token))!;
    },
  };
}
export type PanelRepository = ReturnType<typeof createPanelRepository>;
