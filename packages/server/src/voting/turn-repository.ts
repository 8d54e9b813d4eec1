import { type BallotInput, RENDERER_VERSION } from "@tourney/core/contract";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import type { NewBout } from "./plan-turn.js";

const EntryOfBout = z.object({ entryId: z.uuid(), promptId: z.uuid(), entrantId: z.uuid() });
const TurnBout = z.object({
  id: z.uuid(),
  ordinal: z.int(),
  token: z.string(),
  leftToken: z.string(),
  rightToken: z.string(),
  promptId: z.uuid(),
  left: EntryOfBout,
  right: EntryOfBout,
  isRepeat: z.boolean(),
  isAutomatic: z.boolean(),
  /** One that was not answered in time is `returned`: an answer to it counts all the same. */
  state: z.enum(["open", "answered", "skipped", "returned"]),
});
export type TurnBout = z.infer<typeof TurnBout>;

/** A voter whose turn it is, with the panel's rules and everything that was put before this voter. */
const Turn = z.object({
  voterId: z.uuid(),
  tokenHash: z.string(),
  revoked: z.boolean(),
  panelId: z.uuid(),
  panelToken: z.string(),
  editionId: z.uuid(),
  quota: z.int(),
  closed: z.boolean(),
  bouts: z.array(TurnBout),
});
export type Turn = z.infer<typeof Turn>;

/** A bout that is not answered goes back after this long. */
export const OPEN_FOR = "30 minutes";

const ENTRY = (side: "left" | "right") =>
  `json_build_object('entryId', o.${side}_entry_id, 'promptId', o.prompt_id, 'entrantId', o.${side}_entrant_id)`;
const READ = `
  SELECT v.id AS "voterId", v.token_hash AS "tokenHash", v.revoked_at IS NOT NULL AS revoked, p.id AS "panelId", p.token AS "panelToken",
    p.edition_id AS "editionId", p.quota, coalesce(p.closes_at <= now(), false) AS closed,
    coalesce((SELECT json_agg(json_build_object('id', o.id, 'ordinal', o.ordinal, 'token', o.token, 'leftToken', o.left_token,
        'rightToken', o.right_token, 'promptId', o.prompt_id, 'left', ${ENTRY("left")}, 'right', ${ENTRY("right")},
        'isRepeat', o.is_repeat, 'isAutomatic', o.is_automatic, 'state', CASE WHEN b.id IS NOT NULL THEN 'answered'
          WHEN o.skipped_at IS NOT NULL THEN 'skipped' WHEN o.issued_at > now() - interval '${OPEN_FOR}' THEN 'open' ELSE 'returned' END))
      FROM bouts o LEFT JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL WHERE o.voter_id = v.id), '[]'::json) AS bouts
  FROM voters v JOIN panels p ON p.id = v.panel_id`;

const BALLOT_COLUMNS =
  "bout_id, lean, left_works, right_works, reasons, note, dwell_ms, left_touched, right_touched, renderer_version, mask_version";

/** Issues bouts, and decides those at once that are not to be shown. A bout of which anything is taken already is left out. */
const ISSUE = `
  chosen AS (SELECT * FROM jsonb_to_recordset($2::jsonb) AS n(id uuid, ordinal int, token text, "leftToken" text, "rightToken" text,
    "promptId" uuid, "left" jsonb, "right" jsonb, reason text, "isRepeat" boolean, "losesUnseen" text)),
  issued AS (INSERT INTO bouts (id, voter_id, ordinal, token, left_token, right_token, prompt_id, left_entry_id, right_entry_id,
      left_entrant_id, right_entrant_id, reason, is_repeat, is_automatic)
    SELECT id, $1, ordinal, token, "leftToken", "rightToken", "promptId", ("left"->>'entryId')::uuid, ("right"->>'entryId')::uuid,
      ("left"->>'entrantId')::uuid, ("right"->>'entrantId')::uuid, reason, "isRepeat", "losesUnseen" IS NOT NULL FROM chosen ORDER BY ordinal
    ON CONFLICT DO NOTHING RETURNING id),
  lost AS (INSERT INTO ballots (${BALLOT_COLUMNS})
    SELECT id, CASE "losesUnseen" WHEN 'left' THEN 2 ELSE -2 END, "losesUnseen" <> 'left', "losesUnseen" <> 'right', '[]', '', 0, false, false,
      $3, NULL FROM chosen WHERE "losesUnseen" IS NOT NULL AND id IN (SELECT id FROM issued))`;

const Stored = z.object({ cast: z.int(), issued: z.int() });

/** A ballot as it is kept. */
export interface CastBallot {
  boutId: string;
  input: BallotInput;
  maskVersion: string;
}

/**
 * A voter's turn in two statements, whatever happens in it: one reads all it depends on, the other stores the ballot and issues the next
 * bouts, both or neither. Turns of the same voter on two devices at once are told apart by the bouts' ordinals: the later one issues none.
 */
export function createTurnRepository(db: Database) {
  const readWhere = async (condition: string, bind: readonly string[]): Promise<Turn | null> => {
    const [row] = await db.select(Turn, `${READ} WHERE ${condition}`, bind);
    return row ?? null;
  };
  return {
    readByVoter: (panelToken: string, tokenHash: string) =>
      readWhere("p.token = $1 AND v.token_hash = $2", [panelToken, tokenHash]),
    readAgain: (voterId: string) => readWhere("v.id = $1", [voterId]),
    readByBout: (boutToken: string) => readWhere("v.id = (SELECT voter_id FROM bouts WHERE token = $1)", [boutToken]),
    /**
     * Resolves with how many ballots and bouts were stored: 0 ballots when the bout has one or was passed over, fewer bouts than
     * wanted when another turn of the same voter came first.
     */
    async store(
      voterId: string,
      issue: readonly NewBout[],
      ballot: CastBallot | null,
    ): Promise<z.infer<typeof Stored>> {
      const bind: unknown[] = [voterId, JSON.stringify(issue), RENDERER_VERSION];
      // Locked, so that it cannot be passed over at the same moment.
      const cast = `cast_now AS (INSERT INTO ballots (${BALLOT_COLUMNS})
        SELECT id, $5, $6, $7, $8::jsonb, $9, $10, $11, $12, $3, $13 FROM (SELECT id FROM bouts WHERE id = $4 AND skipped_at IS NULL FOR KEY SHARE) o
        ON CONFLICT (bout_id) WHERE voided_at IS NULL DO NOTHING RETURNING id),`;
      if (ballot) {
        const { boutId, input, maskVersion } = ballot;
        bind.push(boutId, input.lean, input.leftWorks, input.rightWorks, JSON.stringify(input.reasons), input.note);
        bind.push(input.dwellMs, input.leftTouched, input.rightTouched, maskVersion);
      }
      const [row] = await db.select(
        Stored,
        `WITH ${ballot ? cast : ""} ${ISSUE}
         SELECT ${ballot ? "(SELECT count(*)::int FROM cast_now)" : "0"} AS cast, (SELECT count(*)::int FROM issued) AS issued`,
        bind,
      );
      return row!;
    },
  };
}
export type TurnRepository = ReturnType<typeof createTurnRepository>;
