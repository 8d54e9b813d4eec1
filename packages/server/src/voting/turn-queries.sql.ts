import * as z from "zod";
import { keepPlan } from "../db/kept-plan.js";
import { OPEN_FOR, sideOf } from "./turn.js";

const ENTRY = (side: "left" | "right") =>
  `json_build_object('entryId', o.${side}_entry_id, 'promptId', o.prompt_id, 'competitorId', ${sideOf(side)})`;
/** The parts of a side's name: `readSide`. */
const VERSION = (side: "left" | "right") => `split_part("${side}"->>'competitorId', ' ', 1)::uuid`;
const FORM = (side: "left" | "right") => `coalesce(substring("${side}"->>'competitorId' FROM ' (.*)$'), '')`;

/**
 * A bout whose ballot was voided by anybody but its voter has been answered: nobody is asked again. Each ballot is looked up by its bout (OFFSET 0), since the planner would
 * rather read all ballots of everybody.
 */
const READ = `
  SELECT v.id AS "voterId", v.token_hash AS "tokenHash", v.revoked_at IS NOT NULL AS revoked, p.id AS "panelId", p.token AS "panelToken",
    p.edition_id AS "editionId", p.contest, (SELECT n.version_id FROM entrants n WHERE n.id = p.newcomer_id) AS newcomer, p.quota, coalesce(p.closes_at <= now(), false) AS closed,
    coalesce((SELECT json_agg(json_build_object('id', o.id, 'ordinal', o.ordinal, 'token', o.token, 'leftToken', o.left_token,
        'rightToken', o.right_token, 'promptId', o.prompt_id, 'left', ${ENTRY("left")}, 'right', ${ENTRY("right")},
        'isRepeat', o.is_repeat, 'isAutomatic', o.is_automatic, 'state', CASE WHEN b.id IS NOT NULL THEN 'answered'
          WHEN o.skipped_at IS NOT NULL THEN 'skipped' WHEN o.issued_at > now() - interval '${OPEN_FOR}' THEN 'open' ELSE 'returned' END))
      FROM bouts o LEFT JOIN LATERAL (SELECT b.id FROM ballots b WHERE b.bout_id = o.id AND b.voided_by IS DISTINCT FROM 'voter' OFFSET 0) b ON true
      WHERE o.voter_id = v.id), '[]'::json) AS bouts
  FROM voters v JOIN panels p ON p.id = v.panel_id`;

/** The turn of the voter of panel token $1 with token hash $2. */
export const READ_BY_VOTER = keepPlan(`${READ} WHERE p.token = $1 AND v.token_hash = $2`);
/** The turn of voter $1. */
export const READ_AGAIN = keepPlan(`${READ} WHERE v.id = $1`);
/** The turn of the voter of the bout with token $1. */
export const READ_BY_BOUT = keepPlan(`${READ} WHERE v.id = (SELECT voter_id FROM bouts WHERE token = $1)`);
/** The turns of the voters of the bouts with tokens $1. */
export const READ_BY_BOUTS = `${READ} WHERE v.id IN (SELECT voter_id FROM bouts WHERE token = ANY($1))`;

/**
 * Stores ballots and issues bouts. A bout is locked before its ballot is stored, so that it cannot be passed over at the same moment;
 * a bout of which anything is taken already is not issued, and neither is what would be decided by it.
 */
export const STORE = keepPlan(`
  WITH sent AS (SELECT * FROM jsonb_to_recordset($1::jsonb) AS s(id uuid, "boutId" uuid, lean int, "leftWorks" boolean, "rightWorks" boolean,
      reasons jsonb, note text, "dwellMs" int, "leftTouched" boolean, "rightTouched" boolean, "maskVersion" text,
      "seenWith" jsonb)),
    chosen AS (SELECT * FROM jsonb_to_recordset($2::jsonb) AS n(id uuid, "voterId" uuid, ordinal int, token text, "leftToken" text,
      "rightToken" text, "promptId" uuid, "left" jsonb, "right" jsonb, reason text, "isRepeat" boolean, "losesUnseen" text)),
    answerable AS (SELECT id FROM bouts WHERE id IN (SELECT "boutId" FROM sent) AND skipped_at IS NULL ORDER BY id FOR KEY SHARE),
    issued AS (INSERT INTO bouts (id, voter_id, ordinal, token, left_token, right_token, prompt_id, wording_id, left_entry_id, right_entry_id,
        left_version_id, right_version_id, reason, is_repeat, is_automatic, contest, left_form, right_form)
      SELECT id, "voterId", ordinal, token, "leftToken", "rightToken", "promptId", (SELECT wording_id FROM prompts q WHERE q.id = "promptId"),
        ("left"->>'entryId')::uuid, ("right"->>'entryId')::uuid, ${VERSION("left")}, ${VERSION("right")},
        reason, "isRepeat", "losesUnseen" IS NOT NULL, (SELECT p.contest FROM voters v JOIN panels p ON p.id = v.panel_id WHERE v.id = "voterId"),
        ${FORM("left")}, ${FORM("right")} FROM chosen
      ORDER BY "voterId", ordinal ON CONFLICT DO NOTHING RETURNING id),
    stored AS (INSERT INTO ballots (id, bout_id, lean, left_works, right_works, reasons, note, dwell_ms, left_touched, right_touched,
        renderer_version, mask_version, seen_with)
      SELECT id, "boutId", lean, "leftWorks", "rightWorks", reasons, note, "dwellMs", "leftTouched", "rightTouched", $3, "maskVersion", "seenWith"
        FROM sent WHERE "boutId" IN (SELECT id FROM answerable)
      UNION ALL SELECT gen_random_uuid(), id, CASE "losesUnseen" WHEN 'left' THEN 2 ELSE -2 END, "losesUnseen" <> 'left',
        "losesUnseen" <> 'right', '[]', '', 0, false, false, $3, NULL, NULL::jsonb
        FROM chosen WHERE "losesUnseen" IS NOT NULL AND id IN (SELECT id FROM issued)
      ON CONFLICT (bout_id) WHERE voided_at IS NULL DO NOTHING RETURNING id)
  SELECT coalesce((SELECT json_agg(id) FROM stored), '[]') AS ballots, coalesce((SELECT json_agg(id) FROM issued), '[]') AS bouts`);
export const Stored = z.object({ ballots: z.array(z.string()), bouts: z.array(z.string()) });
