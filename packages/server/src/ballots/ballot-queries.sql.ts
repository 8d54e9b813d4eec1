import { Reason, SeenWith } from "@tourney/core/contract";
import * as z from "zod";

export const Wording = z.object({ id: z.uuid() });
/** Wordings of edition $1, in the order of its prompts. */
export const WORDINGS = `SELECT wording_id AS id FROM prompts WHERE edition_id = $1 ORDER BY position`;

/** An entry that a ballot names, with who made it. */
export const BallotEntry = z.object({ id: z.string(), versionId: z.string(), entrantId: z.string() });
export type BallotEntry = z.infer<typeof BallotEntry>;
/** Entries $1. */
export const ENTRIES = `
  SELECT e.id, g.version_id AS "versionId", g.entrant_id AS "entrantId"
  FROM entries e JOIN generations g ON g.id = e.generation_id WHERE e.id = ANY($1::uuid[])`;

/** What voters saw with, each sort by its groups; numbered from 1, since 0 says that it is not known. */
export const SEEN_GROUPS = {
  window: ["under 700 px wide", "700 to 1,199 px wide", "1,200 px wide or more"],
  pointer: SeenWith.shape.pointer.options,
  "frame rate": ["under 45 frames a second", "45 frames a second or more"],
} as const;

/** What is said of a ballot by a few bits each, from the lowest: the lean, from 0 on, takes three. */
const SIGNS_SQL = [
  ["lean", 3, "b.lean + 2"],
  ["leftWorks", 1, "b.left_works::int"],
  ["rightWorks", 1, "b.right_works::int"],
  ["isAutomatic", 1, "o.is_automatic::int"],
  ["isRated", 1, "(o.contest = 'entrants')::int"],
  [
    "window",
    2,
    "CASE WHEN b.seen_with IS NULL THEN 0 WHEN (b.seen_with->>'width')::int < 700 THEN 1 WHEN (b.seen_with->>'width')::int < 1200 THEN 2 ELSE 3 END",
  ],
  ["pointer", 3, `coalesce(array_position('{${SEEN_GROUPS.pointer.join()}}'::text[], b.seen_with->>'pointer'), 0)`],
  [
    "frame rate",
    2,
    "CASE WHEN (b.seen_with->>'frameRate')::int < 45 THEN 1 WHEN b.seen_with->>'frameRate' IS NOT NULL THEN 2 ELSE 0 END",
  ],
] as const;
export type Sign = (typeof SIGNS_SQL)[number][0];

/** Where each sign stands in the number that holds all of them. */
export const SIGN_PLACES = (() => {
  const places = {} as Record<Sign, { shift: number; mask: number }>;
  let shift = 0;
  for (const [name, bits] of SIGNS_SQL) {
    places[name] = { shift, mask: 2 ** bits - 1 };
    shift += bits;
  }
  return places;
})();

/** What reads one sign of ballots. Whoever goes through all of them makes it beforehand: to look up where a sign stands takes longer than to read it. */
export function signReader(name: Sign): (signs: number) => number {
  const { shift, mask } = SIGN_PLACES[name];
  return (signs) => (signs >> shift) & mask;
}

const readLeanSign = signReader("lean");
/** How a ballot leans: −2 (left by far) to 2 (right by far). */
export const readLean = (signs: number): number => readLeanSign(signs) - 2;

export const SentBallots = z.object({ voterId: z.uuid(), bytes: z.instanceof(Buffer), ids: z.array(z.string()) });
export type SentBallots = z.infer<typeof SentBallots>;

/** Bytes of one ballot as `BALLOTS` sends it. */
export const SENT_BYTES = 50;

/**
 * By voter, of voters $1, the ballots on wordings $2 that are not voided, in the order in which they were cast, as bytes: its two entries, sixteen each; when it was cast in
 * seconds since 1970, where its wording stands in the list, and the milliseconds that it took, four each; its signs, its reasons as bits, and the milliseconds of the second in which it was cast, two each. With their ids where $3 asks for them. Rows with
 * names would take a hundred times as long to read.
 */
export const BALLOTS = `
  SELECT o.voter_id AS "voterId", string_agg(uuid_send(o.left_entry_id) || uuid_send(o.right_entry_id) || int4send(floor(extract(epoch FROM b.cast_at))::int)
      || int4send((w.place - 1)::int) || int4send(b.dwell_ms) || int2send((${SIGNS_SQL.map(([name, , sql]) => `(${sql}) * ${2 ** SIGN_PLACES[name].shift}`).join(" + ")})::int2)
      || int2send((CASE WHEN b.reasons = '[]' THEN 0 ELSE ${Reason.options.map((reason, bit) => `(b.reasons @> '"${reason}"')::int * ${2 ** bit}`).join(" + ")} END)::int2)
      || int2send((floor(extract(milliseconds FROM b.cast_at))::int % 1000)::int2), ''
      ORDER BY b.cast_at, b.id) AS bytes,
    coalesce(array_agg(b.id::text ORDER BY b.cast_at, b.id) FILTER (WHERE $3), '{}') AS ids
  FROM bouts o JOIN ballots b ON b.bout_id = o.id AND b.voided_at IS NULL
    JOIN unnest($2::uuid[]) WITH ORDINALITY w(id, place) ON w.id = o.wording_id
  WHERE o.voter_id = ANY($1::uuid[]) GROUP BY 1`;
