/** Entrants as they are set up now, with how many versions each has had and how many answers were asked of it. */
export const SELECT_ENTRANTS = `
  SELECT n.id, n.key, n.name, n.maker, n.aliases, n.model, n.settings, n.prices, n.glyph, n.sample, n.version_id AS "versionId",
    n.retired_at AS "retiredAt", n.created_at AS "createdAt",
    CASE WHEN o.id IS NOT NULL THEN jsonb_build_object('key', o.key) END AS predecessor,
    jsonb_build_object('protocol', p.protocol, 'baseUrl', p.base_url, 'keyVariable', p.key_variable, 'concurrency', p.concurrency,
      'requestsPerMinute', p.requests_per_minute, 'tokensPerMinute', p.tokens_per_minute) AS endpoint,
    jsonb_build_object('number', v.number) AS version,
    (SELECT count(*)::int FROM entrant_versions a WHERE a.entrant_id = n.id) AS versions,
    (SELECT count(*)::int FROM generations g WHERE g.entrant_id = n.id) AS generations
  FROM entrants n JOIN endpoints p ON p.id = n.endpoint_id JOIN entrant_versions v ON v.id = n.version_id
    LEFT JOIN entrants o ON o.id = n.predecessor_id`;

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
