import * as z from "zod";

export const PlaceRow = z.object({
  promptKey: z.string(),
  entrantKey: z.string(),
  number: z.int(),
  isPresent: z.boolean(),
  promptId: z.uuid(),
  wordingId: z.uuid(),
  versionId: z.uuid(),
  entryId: z.uuid(),
});
export type PlaceRow = z.infer<typeof PlaceRow>;

/** For each prompt of edition $1 and each version, the entry that voters are shown: the first shot of the last turn, of the first take. */
export const PLACES = `
  SELECT DISTINCT ON (q.id, v.id) q.key AS "promptKey", n.key AS "entrantKey", v.number, n.version_id = v.id AS "isPresent", q.id AS "promptId",
    q.wording_id AS "wordingId", v.id AS "versionId", e.id AS "entryId"
  FROM prompts q JOIN generations g ON g.wording_id = q.wording_id JOIN entries e ON e.generation_id = g.id AND e.edited_from IS NULL
    JOIN entrant_versions v ON v.id = g.version_id JOIN entrants n ON n.id = v.entrant_id
  WHERE q.edition_id = $1 AND g.round = 0 AND g.superseded_at IS NULL ORDER BY q.id, v.id, g.take, g.turn DESC`;
