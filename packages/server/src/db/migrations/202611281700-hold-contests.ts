import type { Migration } from "../migration.js";

/**
 * A panel may ask about something else than entrants. Its bouts say so, and which form of an entrant's page stood on each side; only those of the
 * contest between entrants go into the tallies and the ratings: `rated_bouts`.
 */
const UP = `
ALTER TABLE panels
  ADD COLUMN contest text NOT NULL DEFAULT 'entrants'
    CHECK (contest IN ('entrants', 'hints', 'takes', 'rounds', 'turns', 'mended', 'turn_pages')),
  ADD COLUMN step integer NOT NULL DEFAULT 1 CHECK (step BETWEEN 1 AND 10),
  ADD COLUMN newcomer_id uuid REFERENCES entrants(id),
  ADD CHECK (newcomer_id IS NULL OR contest = 'entrants');
ALTER TABLE bouts
  ADD COLUMN contest text NOT NULL DEFAULT 'entrants'
    CHECK (contest IN ('entrants', 'hints', 'takes', 'rounds', 'turns', 'mended', 'turn_pages')),
  ADD COLUMN left_form text NOT NULL DEFAULT '',
  ADD COLUMN right_form text NOT NULL DEFAULT '';
CREATE INDEX bouts_of_other_contests ON bouts (wording_id) WHERE contest <> 'entrants';
CREATE VIEW rated_bouts AS SELECT * FROM bouts WHERE contest = 'entrants';
`;

const DOWN = `
DROP VIEW rated_bouts;
DROP INDEX bouts_of_other_contests;
ALTER TABLE bouts DROP COLUMN contest, DROP COLUMN left_form, DROP COLUMN right_form;
ALTER TABLE panels DROP COLUMN contest, DROP COLUMN step, DROP COLUMN newcomer_id;
`;

/** Replaces texts in a function that the database has, and fails where it does not find one of them. */
const rewrite = (name: string, ...changes: readonly [from: string, to: string][]) => `
DO $do$
DECLARE
  body text := pg_get_functiondef('${name}'::regproc);
BEGIN
  ${changes
    .map(
      ([
        from,
        to,
      ]) => `IF position($q$${from}$q$ IN body) = 0 THEN RAISE EXCEPTION '${name} is not as it was released'; END IF;
  body := replace(body, $q$${from}$q$, $q$${to}$q$);`,
    )
    .join("\n  ")}
  EXECUTE body;
END $do$;
`;

const IN_ALL = "JOIN bouts o ON";
const IN_RATED = "JOIN rated_bouts o ON";
const COUNT_ANY: [string, string][] = [
  ["INTO STRICT bout", "INTO bout"],
  ["FROM bouts o", "FROM rated_bouts o"],
  ["WHERE o.id = ballot.bout_id;", "WHERE o.id = ballot.bout_id; IF NOT FOUND THEN RETURN; END IF;"],
];
const turnedRound = (changes: readonly [string, string][]) => changes.map(([from, to]): [string, string] => [to, from]);

export const holdContests: Migration = {
  name: "202611281700-hold-contests",
  up: async ({ context, transaction }) => {
    await context.query(
      `${UP}${rewrite("count_ballot", ...COUNT_ANY)}${rewrite("count_cast_ballots", [IN_ALL, IN_RATED])}`,
      { transaction },
    );
  },
  down: async ({ context, transaction }) => {
    await context.query(
      `${rewrite("count_ballot", ...turnedRound(COUNT_ANY))}${rewrite("count_cast_ballots", [IN_RATED, IN_ALL])}${DOWN}`,
      { transaction },
    );
  },
};
