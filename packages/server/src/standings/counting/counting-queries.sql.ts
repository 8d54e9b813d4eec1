/** All wordings and all versions. */
export const NUMBERED_IDS =
  'SELECT id, true AS "isWording" FROM wordings UNION ALL SELECT id, false FROM entrant_versions';

/**
 * Of each of voters $1 the ballots that are rated, as bytes: where the wording stands in $2 and the versions in $3, four each; the lean and what works, two;
 * when they were cast in seconds since 1970, four.
 */
export const BALLOTS_OF_VOTERS = `
  SELECT o.voter_id AS id, string_agg(int4send((w.place - 1)::int) || int4send((l.place - 1)::int) || int4send((r.place - 1)::int)
      || int2send(((b.lean + 2) * 256 + b.left_works::int + b.right_works::int * 2 + o.is_automatic::int * 4)::int2)
      || int4send(floor(extract(epoch FROM b.cast_at))::int), '') AS bytes
  FROM unnest($1::uuid[]) x(id) JOIN voters v ON v.id = x.id AND v.left_out_at IS NULL
    JOIN rated_bouts o ON o.voter_id = v.id JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN unnest($2::uuid[]) WITH ORDINALITY w(id, place) ON w.id = o.wording_id
    JOIN unnest($3::uuid[]) WITH ORDINALITY l(id, place) ON l.id = o.left_version_id
    JOIN unnest($3::uuid[]) WITH ORDINALITY r(id, place) ON r.id = o.right_version_id
  GROUP BY 1`;
