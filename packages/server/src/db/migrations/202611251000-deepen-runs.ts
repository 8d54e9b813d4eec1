import type { Migration } from "../migration.js";

/**
 * What a run needs to survive bad endpoints and dead processes: every request as a row of its own, what came of a stream so
 * far, versions of entrants, limits that all processes share, and the facts that extraction tells of an artifact.
 */
const UP = `
ALTER TABLE suites ADD COLUMN archived_at timestamptz;
CREATE TABLE suite_drafts (
  suite_key text PRIMARY KEY,
  yaml text NOT NULL,
  based_on integer,
  saved_at timestamptz NOT NULL DEFAULT now()
);

ALTER TABLE entries
  ADD COLUMN facts jsonb NOT NULL DEFAULT '{"missing": [], "remote": [], "ruleBreaks": [], "leaks": []}',
  ADD COLUMN edited_from uuid REFERENCES entries(id),
  ADD COLUMN diff text,
  DROP CONSTRAINT entries_generation_id_mend_round_key,
  ADD CHECK ((edited_from IS NULL) = (diff IS NULL));
-- Besides what the model made, an entry may be mended by hand any number of times.
CREATE UNIQUE INDEX entries_one_a_generation ON entries (generation_id) WHERE edited_from IS NULL;

ALTER TABLE endpoints
  DROP CONSTRAINT endpoints_protocol_check,
  ADD CONSTRAINT endpoints_protocol_check CHECK (protocol IN ('chat-completions', 'messages', 'by-hand')),
  DROP CONSTRAINT endpoints_concurrency_check,
  ADD CONSTRAINT endpoints_concurrency_check CHECK (concurrency BETWEEN 1 AND 256),
  ADD COLUMN requests_per_minute integer CHECK (requests_per_minute > 0),
  ADD COLUMN tokens_per_minute integer CHECK (tokens_per_minute > 0),
  ADD COLUMN failures_in_row integer NOT NULL DEFAULT 0 CHECK (failures_in_row >= 0),
  ADD COLUMN open_until timestamptz,
  ADD COLUMN open_reason text;

ALTER TABLE entrants
  ADD COLUMN predecessor_id uuid REFERENCES entrants(id),
  ADD COLUMN aliases jsonb NOT NULL DEFAULT '[]',
  ADD COLUMN version integer NOT NULL DEFAULT 1 CHECK (version > 0),
  ADD COLUMN retired_at timestamptz,
  ADD CHECK (predecessor_id <> id);

CREATE TABLE entrant_versions (
  entrant_id uuid NOT NULL REFERENCES entrants(id),
  number integer NOT NULL CHECK (number > 0),
  content jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (entrant_id, number)
);
CREATE TRIGGER versions_are_frozen BEFORE UPDATE ON entrant_versions FOR EACH ROW EXECUTE FUNCTION refuse_change();

ALTER TABLE runs
  ADD COLUMN options jsonb NOT NULL DEFAULT '{}',
  ADD COLUMN budget_usd double precision CHECK (budget_usd > 0),
  ADD COLUMN paused_at timestamptz;

ALTER TABLE generations
  DROP CONSTRAINT generations_state_check,
  ADD CONSTRAINT generations_state_check
    CHECK (state IN ('waiting', 'queued', 'admitted', 'running', 'answered', 'failed', 'cancelled', 'held')),
  DROP CONSTRAINT generations_prompt_id_entrant_id_take_key,
  ADD COLUMN stage integer NOT NULL DEFAULT 1 CHECK (stage > 0),
  ADD COLUMN mend_round integer NOT NULL DEFAULT 0 CHECK (mend_round >= 0),
  ADD COLUMN follow_up jsonb,
  ADD COLUMN position integer NOT NULL DEFAULT 0,
  ADD COLUMN not_before timestamptz,
  ADD COLUMN endpoint_id uuid REFERENCES endpoints(id),
  ADD COLUMN entrant_version integer NOT NULL DEFAULT 1,
  ADD COLUMN estimate_usd double precision,
  ADD COLUMN outcome text,
  ADD COLUMN outcome_detail text,
  ADD COLUMN tries integer NOT NULL DEFAULT 0 CHECK (tries >= 0),
  ADD COLUMN queued_at timestamptz NOT NULL DEFAULT now(),
  ADD CONSTRAINT generations_one_a_place UNIQUE (prompt_id, entrant_id, take, stage, mend_round),
  ADD CHECK ((mend_round > 0) = (follow_up IS NOT NULL));
-- The place of an answer in one text: whoever asks for it twice asks for the same row, by the constraint above.
ALTER TABLE generations ADD COLUMN idempotency_key text NOT NULL GENERATED ALWAYS AS
  (prompt_id::text || '/' || entrant_id::text || '/' || take || '/' || stage || '/' || mend_round) STORED;
UPDATE generations g SET endpoint_id = n.endpoint_id FROM entrants n WHERE n.id = g.entrant_id;
CREATE INDEX generations_to_admit ON generations (endpoint_id, position) WHERE state = 'queued';
CREATE INDEX generations_in_flight ON generations (endpoint_id) WHERE state IN ('admitted', 'running');
CREATE INDEX generations_by_place ON generations (entrant_id, state);

CREATE TABLE attempts (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  generation_id uuid NOT NULL REFERENCES generations(id),
  number integer NOT NULL CHECK (number > 0),
  purpose text NOT NULL CHECK (purpose IN ('first', 'retry', 'repeat', 'continuation', 'again')),
  request jsonb NOT NULL,
  sent_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz,
  outcome text,
  message text,
  remedy text,
  http_status integer,
  headers jsonb,
  text text NOT NULL DEFAULT '',
  reasoning text NOT NULL DEFAULT '',
  usage jsonb,
  first_token_ms double precision,
  total_ms double precision,
  finish_reason text,
  reported_model text,
  cost_usd double precision CHECK (cost_usd >= 0),
  cost_is_estimate boolean NOT NULL DEFAULT false,
  UNIQUE (generation_id, number),
  CHECK ((ended_at IS NULL) = (outcome IS NULL))
);

-- What came of streams that have not ended yet, piece by piece.
CREATE TABLE stream_parts (
  attempt_id uuid NOT NULL REFERENCES attempts(id),
  number integer NOT NULL,
  text text NOT NULL,
  PRIMARY KEY (attempt_id, number)
);

-- Tokens and requests of the last minutes, for limits that all processes share.
CREATE INDEX attempts_by_time ON attempts (sent_at);
`;

const DOWN = `
DROP TABLE stream_parts, attempts, suite_drafts;
ALTER TABLE suites DROP COLUMN archived_at;
ALTER TABLE generations
  DROP COLUMN idempotency_key,
  DROP CONSTRAINT generations_one_a_place,
  DROP COLUMN stage, DROP COLUMN mend_round, DROP COLUMN follow_up, DROP COLUMN position, DROP COLUMN not_before,
  DROP COLUMN endpoint_id, DROP COLUMN entrant_version, DROP COLUMN estimate_usd, DROP COLUMN outcome, DROP COLUMN outcome_detail, DROP COLUMN tries, DROP COLUMN queued_at,
  DROP CONSTRAINT generations_state_check,
  ADD CONSTRAINT generations_state_check CHECK (state IN ('queued', 'running', 'answered', 'failed', 'cancelled')),
  ADD CONSTRAINT generations_prompt_id_entrant_id_take_key UNIQUE (prompt_id, entrant_id, take);
ALTER TABLE runs DROP COLUMN options, DROP COLUMN budget_usd, DROP COLUMN paused_at;
DROP TABLE entrant_versions;
ALTER TABLE entrants DROP COLUMN predecessor_id, DROP COLUMN aliases, DROP COLUMN version, DROP COLUMN retired_at;
UPDATE endpoints SET concurrency = least(concurrency, 64);
ALTER TABLE endpoints
  DROP CONSTRAINT endpoints_concurrency_check,
  ADD CONSTRAINT endpoints_concurrency_check CHECK (concurrency BETWEEN 1 AND 64),
  DROP COLUMN requests_per_minute, DROP COLUMN tokens_per_minute, DROP COLUMN failures_in_row, DROP COLUMN open_until, DROP COLUMN open_reason,
  DROP CONSTRAINT endpoints_protocol_check,
  ADD CONSTRAINT endpoints_protocol_check CHECK (protocol IN ('chat-completions', 'by-hand'));
DROP INDEX entries_one_a_generation;
ALTER TABLE entries DROP COLUMN facts, DROP COLUMN edited_from, DROP COLUMN diff,
  ADD CONSTRAINT entries_generation_id_mend_round_key UNIQUE (generation_id, mend_round);
`;

export const deepenRuns: Migration = {
  name: "202611251000-deepen-runs",
  up: async ({ context, transaction }) => {
    await context.query(UP, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
