import type { Migration } from "../migration.js";

/**
 * The schema of the whole loop. What must never happen is forbidden here and not only in the code: two answers for one
 * cell and take, an edition that changes, a ballot without its bout, a bout of an entry against itself.
 */
const UP = `
CREATE TABLE suites (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  key text NOT NULL UNIQUE,
  title text NOT NULL,
  sample boolean NOT NULL DEFAULT false,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE editions (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  suite_id uuid NOT NULL REFERENCES suites(id),
  number integer NOT NULL CHECK (number > 0),
  digest text NOT NULL CHECK (digest ~ '^[0-9a-f]{64}$'),
  content jsonb NOT NULL,
  frozen_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (suite_id, number),
  UNIQUE (suite_id, digest)
);

CREATE TABLE prompts (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  edition_id uuid NOT NULL REFERENCES editions(id),
  key text NOT NULL,
  position integer NOT NULL CHECK (position >= 0),
  kind text NOT NULL CHECK (kind IN ('game', 'animation', 'drawing', 'app')),
  content jsonb NOT NULL,
  UNIQUE (edition_id, key),
  UNIQUE (edition_id, position)
);

CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'A frozen edition never changes' USING ERRCODE = 'check_violation';
END $$;
CREATE TRIGGER editions_are_frozen BEFORE UPDATE OR DELETE ON editions FOR EACH ROW EXECUTE FUNCTION refuse_change();
CREATE TRIGGER prompts_are_frozen BEFORE UPDATE OR DELETE ON prompts FOR EACH ROW EXECUTE FUNCTION refuse_change();

CREATE TABLE endpoints (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  protocol text NOT NULL CHECK (protocol IN ('chat-completions', 'by-hand')),
  base_url text,
  key_variable text,
  concurrency integer NOT NULL DEFAULT 2 CHECK (concurrency BETWEEN 1 AND 64),
  CHECK ((protocol = 'by-hand') = (base_url IS NULL))
);
CREATE UNIQUE INDEX endpoints_are_distinct ON endpoints (protocol, coalesce(base_url, ''), coalesce(key_variable, ''));

CREATE TABLE entrants (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  key text NOT NULL UNIQUE,
  name text NOT NULL UNIQUE,
  maker text NOT NULL DEFAULT '',
  endpoint_id uuid NOT NULL REFERENCES endpoints(id),
  model text NOT NULL,
  settings jsonb NOT NULL,
  prices jsonb,
  glyph integer NOT NULL CHECK (glyph BETWEEN 0 AND 15),
  sample boolean NOT NULL DEFAULT false,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE runs (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  edition_id uuid NOT NULL REFERENCES editions(id),
  number integer NOT NULL CHECK (number > 0),
  takes integer NOT NULL CHECK (takes BETWEEN 1 AND 100),
  created_at timestamptz NOT NULL DEFAULT now(),
  cancelled_at timestamptz,
  UNIQUE (edition_id, number)
);

CREATE TABLE generations (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  run_id uuid REFERENCES runs(id),
  prompt_id uuid NOT NULL REFERENCES prompts(id),
  entrant_id uuid NOT NULL REFERENCES entrants(id),
  take integer NOT NULL CHECK (take > 0),
  by_hand boolean NOT NULL DEFAULT false,
  state text NOT NULL CHECK (state IN ('queued', 'running', 'answered', 'failed', 'cancelled')),
  attempts integer NOT NULL DEFAULT 0 CHECK (attempts >= 0),
  requested_model text NOT NULL,
  request jsonb,
  answer text,
  reasoning text,
  usage jsonb,
  timings jsonb,
  cost_usd double precision CHECK (cost_usd >= 0),
  finish_reason text,
  reported_model text,
  failures jsonb NOT NULL DEFAULT '[]',
  created_at timestamptz NOT NULL DEFAULT now(),
  answered_at timestamptz,
  UNIQUE (prompt_id, entrant_id, take),
  CHECK ((state = 'answered') = (answer IS NOT NULL)),
  CHECK (by_hand OR run_id IS NOT NULL)
);
CREATE INDEX generations_by_run ON generations (run_id, state);

CREATE TABLE entries (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  generation_id uuid NOT NULL REFERENCES generations(id),
  mend_round integer NOT NULL DEFAULT 0 CHECK (mend_round >= 0),
  verdict text NOT NULL CHECK (verdict IN ('ok', 'truncated', 'refusal', 'empty', 'no_artifact')),
  kind text NOT NULL CHECK (kind IN ('html', 'svg', 'files', 'component', 'none')),
  entry_path text,
  files jsonb NOT NULL,
  trace jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (generation_id, mend_round),
  CHECK ((kind = 'none') = (entry_path IS NULL))
);

CREATE TABLE renders (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  entry_id uuid NOT NULL REFERENCES entries(id),
  number integer NOT NULL CHECK (number > 0),
  state text NOT NULL DEFAULT 'queued' CHECK (state IN ('queued', 'recorded', 'failed')),
  recording jsonb,
  error text,
  created_at timestamptz NOT NULL DEFAULT now(),
  finished_at timestamptz,
  UNIQUE (entry_id, number),
  CHECK ((state = 'recorded') = (recording IS NOT NULL)),
  CHECK ((state = 'queued') = (finished_at IS NULL))
);

CREATE TABLE panels (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  edition_id uuid NOT NULL REFERENCES editions(id),
  title text NOT NULL,
  message text NOT NULL DEFAULT '',
  quota integer NOT NULL CHECK (quota BETWEEN 1 AND 1000),
  token text NOT NULL UNIQUE CHECK (length(token) >= 22),
  sample boolean NOT NULL DEFAULT false,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE voters (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  panel_id uuid NOT NULL REFERENCES panels(id),
  token_hash text NOT NULL UNIQUE,
  name text NOT NULL DEFAULT '',
  sample boolean NOT NULL DEFAULT false,
  created_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX voters_by_panel ON voters (panel_id);

CREATE TABLE bouts (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  voter_id uuid NOT NULL REFERENCES voters(id),
  prompt_id uuid NOT NULL REFERENCES prompts(id),
  left_entry_id uuid NOT NULL REFERENCES entries(id),
  right_entry_id uuid NOT NULL REFERENCES entries(id),
  ordinal integer NOT NULL CHECK (ordinal > 0),
  token text NOT NULL UNIQUE CHECK (length(token) >= 22),
  left_token text NOT NULL UNIQUE CHECK (length(left_token) >= 22),
  right_token text NOT NULL UNIQUE CHECK (length(right_token) >= 22),
  reason text NOT NULL,
  issued_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (voter_id, ordinal),
  CHECK (left_entry_id <> right_entry_id)
);
CREATE UNIQUE INDEX bouts_never_repeat ON bouts
  (voter_id, least(left_entry_id, right_entry_id), greatest(left_entry_id, right_entry_id));

CREATE TABLE ballots (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  bout_id uuid NOT NULL REFERENCES bouts(id),
  lean integer NOT NULL CHECK (lean BETWEEN -2 AND 2),
  left_works boolean NOT NULL,
  right_works boolean NOT NULL,
  reasons jsonb NOT NULL,
  note text NOT NULL DEFAULT '',
  dwell_ms integer NOT NULL CHECK (dwell_ms >= 0),
  cast_at timestamptz NOT NULL DEFAULT now(),
  voided_at timestamptz,
  void_reason text,
  CHECK ((voided_at IS NULL) = (void_reason IS NULL))
);
CREATE UNIQUE INDEX ballots_one_a_bout ON ballots (bout_id) WHERE voided_at IS NULL;

CREATE TABLE sign_in_links (
  token_hash text PRIMARY KEY,
  expires_at timestamptz NOT NULL,
  used_at timestamptz
);

CREATE TABLE sessions (
  sid text PRIMARY KEY,
  sess json NOT NULL,
  expire timestamptz NOT NULL
);
CREATE INDEX sessions_by_expiry ON sessions (expire);
`;

const DOWN = `
DROP TABLE sessions, sign_in_links, ballots, bouts, voters, panels, renders, entries, generations, runs, entrants, endpoints,
  prompts, editions, suites;
DROP FUNCTION refuse_change;
`;

export const createTables: Migration = {
  name: "202611250900-create-tables",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
