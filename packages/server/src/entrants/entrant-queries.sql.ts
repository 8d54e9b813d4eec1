/**
 * What of entrant $1 has not begun is sent with the new version $2 (model $3, endpoint $4) in the place of version $5, unless the new version
 * has that place already. A take that has begun is finished with the settings it was begun with.
 */
export const MOVE_WAITING = `
  UPDATE generations g SET version_id = $2, requested_model = $3, endpoint_id = $4
  WHERE g.entrant_id = $1 AND g.version_id = $5 AND g.state IN ('waiting', 'queued', 'held') AND g.superseded_at IS NULL
    AND NOT EXISTS (SELECT FROM generations b WHERE b.wording_id = g.wording_id AND b.version_id = g.version_id AND b.take = g.take
      AND b.superseded_at IS NULL AND b.state NOT IN ('waiting', 'queued', 'held', 'cancelled'))
    AND NOT EXISTS (SELECT FROM generations o WHERE o.wording_id = g.wording_id AND o.version_id = $2 AND o.take = g.take
      AND o.superseded_at IS NULL)`;
