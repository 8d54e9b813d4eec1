import { type GenerationEvent, REPLANNABLE, stateAfter, statesBefore } from "@tourney/core/generation";

/** A list of states as SQL. They are names from our own table, never input. */
const list = (states: readonly string[]) => `(${states.map((state) => `'${state}'`).join(", ")})`;
const before = (event: GenerationEvent) => list(statesBefore(event));
const after = (event: GenerationEvent) => `'${stateAfter(event)}'`;

/** Whether the turn before generation `g` has its answer, so that `g` may be sent. */
const CAN_BE_SENT = `(g.turn = 1 OR g.round > 0 OR EXISTS (SELECT FROM generations b WHERE b.wording_id = g.wording_id
  AND b.version_id = g.version_id AND b.take = g.take AND b.turn = g.turn - 1 AND b.round = 0 AND b.superseded_at IS NULL AND b.state = 'answered'))`;

/** The one rule for what becomes of generations that are to be sent once more. Their turns before come first. */
const REQUEUED = `state = CASE WHEN ${CAN_BE_SENT} THEN ${after("requeued")} ELSE ${after("requeued to wait")} END,
  tries = 0, not_before = NULL, outcome = NULL, outcome_detail = NULL, queued_at = now()`;

/** Of run $1 what is in one of the states $2, or of these the given ones $3 with the later turns of their takes. */
export const REQUEUE = `
  UPDATE generations g SET ${REQUEUED}
  WHERE g.run_id = $1 AND g.state = ANY($2::text[]) AND g.state IN ${before("requeued")} AND g.superseded_at IS NULL
    AND ($3::uuid[] IS NULL OR g.id = ANY($3::uuid[]) OR EXISTS (SELECT FROM generations a WHERE a.id = ANY($3::uuid[])
      AND a.wording_id = g.wording_id AND a.version_id = g.version_id AND a.take = g.take AND a.turn < g.turn))`;

/** The turns of a take ($1 wording, $2 version, $3 take) after turn $4 have nothing to go on from. */
export const END_LATER_TURNS = `
  UPDATE generations g SET state = ${after("unreachable")}, outcome = 'cancelled', outcome_detail = 'The turn before it gave nothing to go on from.'
  WHERE g.wording_id = $1 AND g.version_id = $2 AND g.take = $3 AND g.turn > $4 AND g.superseded_at IS NULL AND g.state IN ${before("unreachable")}`;

/** Admits generations $1 and adds their jobs, both or neither. */
export const ADMIT = `
  WITH admitted AS (UPDATE generations SET state = ${after("admitted")} WHERE id = ANY($1::uuid[]) AND state IN ${before("admitted")} RETURNING id)
  SELECT graphile_worker.add_job('generate', json_build_object('generationId', id), job_key := 'generate:' || id) FROM admitted`;

/** Whatever of entrant $1 still waits under version $2 has its answer under another: it is not sent. */
export const CANCEL_LEFT = `
  UPDATE generations g SET state = ${after("cancelled")}, outcome = 'cancelled', outcome_detail = 'The entrant is set up otherwise now.'
  WHERE g.entrant_id = $1 AND g.version_id = $2 AND g.state IN ${before("cancelled")} AND g.superseded_at IS NULL
    AND NOT EXISTS (SELECT FROM generations b WHERE b.wording_id = g.wording_id AND b.version_id = g.version_id AND b.take = g.take
      AND b.superseded_at IS NULL AND b.state NOT IN ('waiting', 'queued', 'held', 'cancelled'))`;

/**
 * Makes generations of run $1: takes 1 to $2 of wordings $4 and entrants $5, with each entrant's estimate in $6. What is there stays as it is,
 * but for what was cancelled or held, of which nothing was kept. Edition $3 gives the order of the prompts; $7 is the redo they are made for.
 */
export const insertMissing = (order: string) => `
  INSERT INTO generations (run_id, wording_id, entrant_id, version_id, take, turn, state, requested_model, endpoint_id, estimate_usd, position, redo_id)
  SELECT $1, q.wording_id, n.id, n.version_id, take, turn, CASE WHEN turn = 1 THEN ${after("requeued")} ELSE ${after("requeued to wait")} END,
    n.model, n.endpoint_id, x.usd, row_number() OVER (ORDER BY ${order}, turn), $7
  FROM prompts q, entrants n JOIN endpoints p ON p.id = n.endpoint_id
    LEFT JOIN jsonb_to_recordset($6::jsonb) AS x("entrantId" uuid, usd float) ON x."entrantId" = n.id,
    generate_series(1, $2::int) take, generate_series(1, 1 + jsonb_array_length(coalesce(q.content->'turns', '[]'))) turn
  WHERE q.edition_id = $3 AND q.id = ANY($4::uuid[]) AND n.id = ANY($5::uuid[]) AND p.protocol <> 'by-hand' AND n.retired_at IS NULL
  ON CONFLICT (wording_id, version_id, take, turn, round) WHERE superseded_at IS NULL DO UPDATE SET run_id = excluded.run_id, state = excluded.state,
    attempts = 0, tries = 0, outcome = NULL, outcome_detail = NULL, not_before = NULL, queued_at = now(), position = excluded.position,
    estimate_usd = excluded.estimate_usd, endpoint_id = excluded.endpoint_id
    WHERE generations.state IN ${list(REPLANNABLE)}`;

/** Adds the follow-up $2 after generation $1, as the next round of its take. Nothing is added when that round is there already. */
export const ADD_FOLLOW_UP = `
  INSERT INTO generations (run_id, wording_id, entrant_id, version_id, take, turn, round, mends, corrections, follow_up, state, requested_model,
    endpoint_id, estimate_usd, position)
  SELECT coalesce($3::uuid, g.run_id), g.wording_id, g.entrant_id, g.version_id, g.take, g.turn, g.round + 1,
    g.mends + ($2::jsonb->>'kind' = 'mend')::int, g.corrections + ($2::jsonb->>'kind' = 'correction')::int, $2::jsonb,
    ${after("requeued")}, v.model, v.endpoint_id, g.estimate_usd, g.position
  FROM generations g JOIN entrant_versions v ON v.id = g.version_id WHERE g.id = $1
  ON CONFLICT (wording_id, version_id, take, turn, round) WHERE superseded_at IS NULL DO NOTHING`;

/** Makes the takes that redo $1 set aside anew, in run $2: all their turns, with the settings of their own version. Answers by hand are not asked for. */
export const INSERT_REDONE = `
  INSERT INTO generations (run_id, wording_id, entrant_id, version_id, take, turn, state, requested_model, endpoint_id, estimate_usd, position, redo_id)
  SELECT $2, g.wording_id, g.entrant_id, g.version_id, g.take, t.turn, CASE WHEN t.turn = 1 THEN ${after("requeued")} ELSE ${after("requeued to wait")} END,
    v.model, v.endpoint_id, g.estimate_usd, row_number() OVER (ORDER BY g.take, g.position, t.turn), $1
  FROM (SELECT DISTINCT ON (wording_id, version_id, take) * FROM generations WHERE superseded_by = $1 ORDER BY wording_id, version_id, take, turn, round) g
    JOIN entrants n ON n.id = g.entrant_id JOIN entrant_versions v ON v.id = g.version_id JOIN endpoints p ON p.id = v.endpoint_id
    JOIN wordings w ON w.id = g.wording_id, generate_series(1, 1 + jsonb_array_length(w.content->'turns')) t(turn)
  WHERE p.protocol <> 'by-hand' AND n.retired_at IS NULL`;
