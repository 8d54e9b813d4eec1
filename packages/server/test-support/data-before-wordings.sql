--
-- PostgreSQL database dump
--


-- Dumped from database version 15.18 (Debian 15.18-0+deb12u1)
-- Dumped by pg_dump version 15.18 (Debian 15.18-0+deb12u1)

SET statement_timeout = 0;
SET lock_timeout = 0;
SET idle_in_transaction_session_timeout = 0;
SET client_encoding = 'UTF8';
SET standard_conforming_strings = on;
SELECT pg_catalog.set_config('search_path', '', false);
SET check_function_bodies = false;
SET xmloption = content;
SET client_min_messages = warning;
SET row_security = off;

--
-- Name: public; Type: SCHEMA; Schema: -; Owner: -
--

CREATE SCHEMA public;


--
-- Name: SCHEMA public; Type: COMMENT; Schema: -; Owner: -
--

COMMENT ON SCHEMA public IS 'standard public schema';


SET default_tablespace = '';

SET default_table_access_method = heap;

--
-- Name: ballots; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.ballots (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    bout_id uuid NOT NULL,
    lean integer NOT NULL,
    left_works boolean NOT NULL,
    right_works boolean NOT NULL,
    reasons jsonb NOT NULL,
    note text DEFAULT ''::text NOT NULL,
    dwell_ms integer NOT NULL,
    cast_at timestamp with time zone DEFAULT now() NOT NULL,
    voided_at timestamp with time zone,
    void_reason text,
    left_touched boolean,
    right_touched boolean,
    renderer_version text,
    mask_version text,
    voided_by text,
    CONSTRAINT ballots_check CHECK (((voided_at IS NULL) = (void_reason IS NULL))),
    CONSTRAINT ballots_dwell_ms_check CHECK ((dwell_ms >= 0)),
    CONSTRAINT ballots_lean_check CHECK (((lean >= '-2'::integer) AND (lean <= 2))),
    CONSTRAINT ballots_voided_by_check CHECK ((voided_by = ANY (ARRAY['voter'::text, 'lead'::text])))
);


--
-- Name: count_ballot(public.ballots, integer); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.count_ballot(ballot public.ballots, step integer) RETURNS void
    LANGUAGE plpgsql
    AS $$
DECLARE
  bout record;
BEGIN
  SELECT o.prompt_id, o.voter_id, q.edition_id, q.kind, v.sample, o.left_entrant_id AS l, o.right_entrant_id AS r INTO STRICT bout
  FROM bouts o JOIN prompts q ON q.id = o.prompt_id JOIN voters v ON v.id = o.voter_id WHERE o.id = ballot.bout_id;
  -- A row is made empty first: adding to it is then the same for the first ballot and for any other.
  INSERT INTO prompt_tallies (prompt_id, left_entrant_id, right_entrant_id, lean) VALUES (bout.prompt_id, bout.l, bout.r, ballot.lean)
    ON CONFLICT DO NOTHING;
  UPDATE prompt_tallies SET n = n + step, left_failures = left_failures + step * (NOT ballot.left_works)::int,
    right_failures = right_failures + step * (NOT ballot.right_works)::int, sample_n = sample_n + step * bout.sample::int
  WHERE prompt_id = bout.prompt_id AND left_entrant_id = bout.l AND right_entrant_id = bout.r AND lean = ballot.lean;
  INSERT INTO voter_tallies (voter_id, edition_id, kind, left_entrant_id, right_entrant_id, lean)
    VALUES (bout.voter_id, bout.edition_id, bout.kind, bout.l, bout.r, ballot.lean) ON CONFLICT DO NOTHING;
  UPDATE voter_tallies SET n = n + step WHERE edition_id = bout.edition_id AND kind = bout.kind AND voter_id = bout.voter_id
    AND left_entrant_id = bout.l AND right_entrant_id = bout.r AND lean = ballot.lean;
  INSERT INTO voter_prompt_tallies (prompt_id, voter_id) VALUES (bout.prompt_id, bout.voter_id) ON CONFLICT DO NOTHING;
  UPDATE voter_prompt_tallies SET n = n + step WHERE prompt_id = bout.prompt_id AND voter_id = bout.voter_id;
END $$;


--
-- Name: count_cast_ballots(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.count_cast_ballots() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
  -- Locked against being left out, or taken in again, while their ballots are counted.
  PERFORM FROM voters v WHERE v.id IN (SELECT o.voter_id FROM cast_now b JOIN bouts o ON o.id = b.bout_id) ORDER BY v.id FOR SHARE;
  INSERT INTO prompt_tallies AS t (prompt_id, left_entrant_id, right_entrant_id, lean, n, left_failures, right_failures, sample_n)
    SELECT o.prompt_id, o.left_entrant_id, o.right_entrant_id, b.lean, count(*), count(*) FILTER (WHERE NOT b.left_works),
      count(*) FILTER (WHERE NOT b.right_works), count(*) FILTER (WHERE v.sample)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4 ORDER BY 1, 2, 3, 4
    ON CONFLICT (prompt_id, left_entrant_id, right_entrant_id, lean) DO UPDATE SET n = t.n + excluded.n,
      left_failures = t.left_failures + excluded.left_failures, right_failures = t.right_failures + excluded.right_failures,
      sample_n = t.sample_n + excluded.sample_n;
  INSERT INTO voter_tallies AS t (voter_id, edition_id, kind, left_entrant_id, right_entrant_id, lean, n)
    SELECT o.voter_id, q.edition_id, q.kind, o.left_entrant_id, o.right_entrant_id, b.lean, count(*)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN prompts q ON q.id = o.prompt_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2, 3, 4, 5, 6 ORDER BY 2, 3, 1, 4, 5, 6
    ON CONFLICT (edition_id, kind, voter_id, left_entrant_id, right_entrant_id, lean) DO UPDATE SET n = t.n + excluded.n;
  INSERT INTO voter_prompt_tallies AS t (prompt_id, voter_id, n)
    SELECT o.prompt_id, o.voter_id, count(*)
    FROM cast_now b JOIN bouts o ON o.id = b.bout_id JOIN voters v ON v.id = o.voter_id
    WHERE b.voided_at IS NULL AND v.left_out_at IS NULL GROUP BY 1, 2 ORDER BY 1, 2
    ON CONFLICT (prompt_id, voter_id) DO UPDATE SET n = t.n + excluded.n;
  RETURN NULL;
END $$;


--
-- Name: count_voter(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.count_voter() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
  IF (OLD.left_out_at IS NULL) <> (NEW.left_out_at IS NULL) THEN
    PERFORM count_ballot(b, CASE WHEN NEW.left_out_at IS NULL THEN 1 ELSE -1 END)
      FROM ballots b JOIN bouts o ON o.id = b.bout_id WHERE o.voter_id = NEW.id AND b.voided_at IS NULL;
  END IF;
  RETURN NULL;
END $$;


--
-- Name: keep_tallies(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.keep_tallies() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
DECLARE
  is_left_out boolean;
BEGIN
  -- Locked against being left out, or taken in again, while this ballot is counted.
  SELECT v.left_out_at IS NOT NULL INTO STRICT is_left_out FROM bouts o JOIN voters v ON v.id = o.voter_id
    WHERE o.id = coalesce(NEW.bout_id, OLD.bout_id) FOR SHARE OF v;
  IF is_left_out THEN
    RETURN NULL;
  END IF;
  IF TG_OP IN ('UPDATE', 'DELETE') AND OLD.voided_at IS NULL THEN
    PERFORM count_ballot(OLD, -1);
  END IF;
  IF TG_OP IN ('INSERT', 'UPDATE') AND NEW.voided_at IS NULL THEN
    PERFORM count_ballot(NEW, 1);
  END IF;
  RETURN NULL;
END $$;


--
-- Name: refuse_change(); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.refuse_change() RETURNS trigger
    LANGUAGE plpgsql
    AS $$
BEGIN
  RAISE EXCEPTION 'A frozen edition never changes' USING ERRCODE = 'check_violation';
END $$;


--
-- Name: attempts; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.attempts (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    generation_id uuid NOT NULL,
    number integer NOT NULL,
    purpose text NOT NULL,
    request jsonb NOT NULL,
    sent_at timestamp with time zone DEFAULT now() NOT NULL,
    ended_at timestamp with time zone,
    outcome text,
    message text,
    remedy text,
    http_status integer,
    headers jsonb,
    text text DEFAULT ''::text NOT NULL,
    reasoning text DEFAULT ''::text NOT NULL,
    usage jsonb,
    first_token_ms double precision,
    total_ms double precision,
    finish_reason text,
    reported_model text,
    cost_usd double precision,
    cost_is_estimate boolean DEFAULT false NOT NULL,
    CONSTRAINT attempts_check CHECK (((ended_at IS NULL) = (outcome IS NULL))),
    CONSTRAINT attempts_cost_usd_check CHECK ((cost_usd >= (0)::double precision)),
    CONSTRAINT attempts_number_check CHECK ((number > 0)),
    CONSTRAINT attempts_purpose_check CHECK ((purpose = ANY (ARRAY['first'::text, 'retry'::text, 'repeat'::text, 'continuation'::text, 'again'::text])))
);


--
-- Name: audit_trail; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.audit_trail (
    id bigint NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL,
    actor text NOT NULL,
    action text NOT NULL,
    panel_id uuid,
    voter_id uuid,
    detail jsonb DEFAULT '{}'::jsonb NOT NULL,
    CONSTRAINT audit_trail_actor_check CHECK ((actor = ANY (ARRAY['lead'::text, 'voter'::text, 'tourney'::text])))
);


--
-- Name: audit_trail_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.audit_trail ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.audit_trail_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: booth_exclusions; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.booth_exclusions (
    entry_id uuid NOT NULL,
    why text NOT NULL,
    excluded_at timestamp with time zone DEFAULT now() NOT NULL
);


--
-- Name: bouts; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.bouts (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    voter_id uuid NOT NULL,
    prompt_id uuid NOT NULL,
    left_entry_id uuid NOT NULL,
    right_entry_id uuid NOT NULL,
    ordinal integer NOT NULL,
    token text NOT NULL,
    left_token text NOT NULL,
    right_token text NOT NULL,
    reason text NOT NULL,
    issued_at timestamp with time zone DEFAULT now() NOT NULL,
    is_repeat boolean DEFAULT false NOT NULL,
    skipped_at timestamp with time zone,
    skip_reason text,
    is_automatic boolean DEFAULT false NOT NULL,
    left_entrant_id uuid NOT NULL,
    right_entrant_id uuid NOT NULL,
    CONSTRAINT bouts_check CHECK ((left_entry_id <> right_entry_id)),
    CONSTRAINT bouts_check1 CHECK (((skipped_at IS NULL) = (skip_reason IS NULL))),
    CONSTRAINT bouts_left_token_check CHECK ((length(left_token) >= 22)),
    CONSTRAINT bouts_ordinal_check CHECK ((ordinal > 0)),
    CONSTRAINT bouts_right_token_check CHECK ((length(right_token) >= 22)),
    CONSTRAINT bouts_token_check CHECK ((length(token) >= 22))
);


--
-- Name: editions; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.editions (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    suite_id uuid NOT NULL,
    number integer NOT NULL,
    digest text NOT NULL,
    content jsonb NOT NULL,
    frozen_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT editions_digest_check CHECK ((digest ~ '^[0-9a-f]{64}$'::text)),
    CONSTRAINT editions_number_check CHECK ((number > 0))
);


--
-- Name: endpoints; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.endpoints (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    protocol text NOT NULL,
    base_url text,
    key_variable text,
    concurrency integer DEFAULT 2 NOT NULL,
    requests_per_minute integer,
    tokens_per_minute integer,
    failures_in_row integer DEFAULT 0 NOT NULL,
    open_until timestamp with time zone,
    open_reason text,
    CONSTRAINT endpoints_check CHECK (((protocol = 'by-hand'::text) = (base_url IS NULL))),
    CONSTRAINT endpoints_concurrency_check CHECK (((concurrency >= 1) AND (concurrency <= 256))),
    CONSTRAINT endpoints_failures_in_row_check CHECK ((failures_in_row >= 0)),
    CONSTRAINT endpoints_protocol_check CHECK ((protocol = ANY (ARRAY['chat-completions'::text, 'messages'::text, 'by-hand'::text]))),
    CONSTRAINT endpoints_requests_per_minute_check CHECK ((requests_per_minute > 0)),
    CONSTRAINT endpoints_tokens_per_minute_check CHECK ((tokens_per_minute > 0))
);


--
-- Name: entrant_versions; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.entrant_versions (
    entrant_id uuid NOT NULL,
    number integer NOT NULL,
    content jsonb NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT entrant_versions_number_check CHECK ((number > 0))
);


--
-- Name: entrants; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.entrants (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    key text NOT NULL,
    name text NOT NULL,
    maker text DEFAULT ''::text NOT NULL,
    endpoint_id uuid NOT NULL,
    model text NOT NULL,
    settings jsonb NOT NULL,
    prices jsonb,
    glyph integer NOT NULL,
    sample boolean DEFAULT false NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    predecessor_id uuid,
    aliases jsonb DEFAULT '[]'::jsonb NOT NULL,
    version integer DEFAULT 1 NOT NULL,
    retired_at timestamp with time zone,
    CONSTRAINT entrants_check CHECK ((predecessor_id <> id)),
    CONSTRAINT entrants_glyph_check CHECK (((glyph >= 0) AND (glyph <= 15))),
    CONSTRAINT entrants_version_check CHECK ((version > 0))
);


--
-- Name: entries; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.entries (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    generation_id uuid NOT NULL,
    mend_round integer DEFAULT 0 NOT NULL,
    verdict text NOT NULL,
    kind text NOT NULL,
    entry_path text,
    files jsonb NOT NULL,
    trace jsonb NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    facts jsonb DEFAULT '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}'::jsonb NOT NULL,
    edited_from uuid,
    diff text,
    CONSTRAINT entries_check CHECK (((kind = 'none'::text) = (entry_path IS NULL))),
    CONSTRAINT entries_check1 CHECK (((edited_from IS NULL) = (diff IS NULL))),
    CONSTRAINT entries_kind_check CHECK ((kind = ANY (ARRAY['html'::text, 'svg'::text, 'files'::text, 'component'::text, 'none'::text]))),
    CONSTRAINT entries_mend_round_check CHECK ((mend_round >= 0)),
    CONSTRAINT entries_verdict_check CHECK ((verdict = ANY (ARRAY['ok'::text, 'truncated'::text, 'refusal'::text, 'empty'::text, 'no_artifact'::text])))
);


--
-- Name: generations; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.generations (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    run_id uuid,
    prompt_id uuid NOT NULL,
    entrant_id uuid NOT NULL,
    take integer NOT NULL,
    by_hand boolean DEFAULT false NOT NULL,
    state text NOT NULL,
    attempts integer DEFAULT 0 NOT NULL,
    requested_model text NOT NULL,
    request jsonb,
    answer text,
    reasoning text,
    usage jsonb,
    timings jsonb,
    cost_usd double precision,
    finish_reason text,
    reported_model text,
    failures jsonb DEFAULT '[]'::jsonb NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    answered_at timestamp with time zone,
    stage integer DEFAULT 1 NOT NULL,
    mend_round integer DEFAULT 0 NOT NULL,
    follow_up jsonb,
    "position" integer DEFAULT 0 NOT NULL,
    not_before timestamp with time zone,
    endpoint_id uuid,
    entrant_version integer DEFAULT 1 NOT NULL,
    estimate_usd double precision,
    outcome text,
    outcome_detail text,
    tries integer DEFAULT 0 NOT NULL,
    queued_at timestamp with time zone DEFAULT now() NOT NULL,
    idempotency_key text GENERATED ALWAYS AS ((((((((((prompt_id)::text || '/'::text) || (entrant_id)::text) || '/'::text) || take) || '/'::text) || stage) || '/'::text) || mend_round)) STORED NOT NULL,
    CONSTRAINT generations_attempts_check CHECK ((attempts >= 0)),
    CONSTRAINT generations_check CHECK (((state = 'answered'::text) = (answer IS NOT NULL))),
    CONSTRAINT generations_check1 CHECK ((by_hand OR (run_id IS NOT NULL))),
    CONSTRAINT generations_check2 CHECK (((mend_round > 0) = (follow_up IS NOT NULL))),
    CONSTRAINT generations_cost_usd_check CHECK ((cost_usd >= (0)::double precision)),
    CONSTRAINT generations_mend_round_check CHECK ((mend_round >= 0)),
    CONSTRAINT generations_stage_check CHECK ((stage > 0)),
    CONSTRAINT generations_state_check CHECK ((state = ANY (ARRAY['waiting'::text, 'queued'::text, 'admitted'::text, 'running'::text, 'answered'::text, 'failed'::text, 'cancelled'::text, 'held'::text]))),
    CONSTRAINT generations_take_check CHECK ((take > 0)),
    CONSTRAINT generations_tries_check CHECK ((tries >= 0))
);


--
-- Name: migrations; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.migrations (
    name character varying(255) NOT NULL
);


--
-- Name: panels; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.panels (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    edition_id uuid NOT NULL,
    title text NOT NULL,
    message text DEFAULT ''::text NOT NULL,
    quota integer NOT NULL,
    token text NOT NULL,
    sample boolean DEFAULT false NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    prompt_ids uuid[],
    entrant_ids uuid[],
    closes_at timestamp with time zone,
    asks_reasons boolean DEFAULT true NOT NULL,
    broken_rule text DEFAULT 'pair'::text NOT NULL,
    link_closed_at timestamp with time zone,
    CONSTRAINT panels_broken_rule_check CHECK ((broken_rule = ANY (ARRAY['pair'::text, 'lose'::text, 'leave_out'::text]))),
    CONSTRAINT panels_quota_check CHECK (((quota >= 1) AND (quota <= 1000))),
    CONSTRAINT panels_token_check CHECK ((length(token) >= 22))
);


--
-- Name: prompt_tallies; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.prompt_tallies (
    prompt_id uuid NOT NULL,
    left_entrant_id uuid NOT NULL,
    right_entrant_id uuid NOT NULL,
    lean integer NOT NULL,
    n integer DEFAULT 0 NOT NULL,
    left_failures integer DEFAULT 0 NOT NULL,
    right_failures integer DEFAULT 0 NOT NULL,
    sample_n integer DEFAULT 0 NOT NULL,
    CONSTRAINT prompt_tallies_left_failures_check CHECK ((left_failures >= 0)),
    CONSTRAINT prompt_tallies_n_check CHECK ((n >= 0)),
    CONSTRAINT prompt_tallies_right_failures_check CHECK ((right_failures >= 0)),
    CONSTRAINT prompt_tallies_sample_n_check CHECK ((sample_n >= 0))
);


--
-- Name: prompts; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.prompts (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    edition_id uuid NOT NULL,
    key text NOT NULL,
    "position" integer NOT NULL,
    kind text NOT NULL,
    content jsonb NOT NULL,
    CONSTRAINT prompts_kind_check CHECK ((kind = ANY (ARRAY['game'::text, 'animation'::text, 'drawing'::text, 'app'::text]))),
    CONSTRAINT prompts_position_check CHECK (("position" >= 0))
);


--
-- Name: rating_snapshots; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.rating_snapshots (
    edition_id uuid NOT NULL,
    kind text,
    method_version text NOT NULL,
    input_digest text NOT NULL,
    ballots integer NOT NULL,
    ratings jsonb NOT NULL,
    counted_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT rating_snapshots_input_digest_check CHECK ((length(input_digest) = 64))
);


--
-- Name: renders; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.renders (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    entry_id uuid NOT NULL,
    number integer NOT NULL,
    state text DEFAULT 'queued'::text NOT NULL,
    recording jsonb,
    error text,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    finished_at timestamp with time zone,
    CONSTRAINT renders_check CHECK (((state = 'recorded'::text) = (recording IS NOT NULL))),
    CONSTRAINT renders_check1 CHECK (((state = 'queued'::text) = (finished_at IS NULL))),
    CONSTRAINT renders_number_check CHECK ((number > 0)),
    CONSTRAINT renders_state_check CHECK ((state = ANY (ARRAY['queued'::text, 'recorded'::text, 'failed'::text])))
);


--
-- Name: runs; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.runs (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    edition_id uuid NOT NULL,
    number integer NOT NULL,
    takes integer NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    cancelled_at timestamp with time zone,
    options jsonb DEFAULT '{}'::jsonb NOT NULL,
    budget_usd double precision,
    paused_at timestamp with time zone,
    CONSTRAINT runs_budget_usd_check CHECK ((budget_usd > (0)::double precision)),
    CONSTRAINT runs_number_check CHECK ((number > 0)),
    CONSTRAINT runs_takes_check CHECK (((takes >= 1) AND (takes <= 100)))
);


--
-- Name: sessions; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.sessions (
    sid text NOT NULL,
    sess json NOT NULL,
    expire timestamp with time zone NOT NULL
);


--
-- Name: sign_in_links; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.sign_in_links (
    token_hash text NOT NULL,
    expires_at timestamp with time zone NOT NULL,
    used_at timestamp with time zone
);


--
-- Name: stream_parts; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.stream_parts (
    attempt_id uuid NOT NULL,
    number integer NOT NULL,
    text text NOT NULL
);


--
-- Name: suite_drafts; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.suite_drafts (
    suite_key text NOT NULL,
    yaml text NOT NULL,
    based_on integer,
    saved_at timestamp with time zone DEFAULT now() NOT NULL
);


--
-- Name: suites; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.suites (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    key text NOT NULL,
    title text NOT NULL,
    sample boolean DEFAULT false NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    archived_at timestamp with time zone
);


--
-- Name: voter_prompt_tallies; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.voter_prompt_tallies (
    prompt_id uuid NOT NULL,
    voter_id uuid NOT NULL,
    n integer DEFAULT 0 NOT NULL,
    CONSTRAINT voter_prompt_tallies_n_check CHECK ((n >= 0))
);


--
-- Name: voter_tallies; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.voter_tallies (
    voter_id uuid NOT NULL,
    edition_id uuid NOT NULL,
    kind text NOT NULL,
    left_entrant_id uuid NOT NULL,
    right_entrant_id uuid NOT NULL,
    lean integer NOT NULL,
    n integer DEFAULT 0 NOT NULL,
    CONSTRAINT voter_tallies_n_check CHECK ((n >= 0))
);


--
-- Name: voters; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.voters (
    id uuid DEFAULT gen_random_uuid() NOT NULL,
    panel_id uuid NOT NULL,
    token_hash text NOT NULL,
    name text DEFAULT ''::text NOT NULL,
    sample boolean DEFAULT false NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    personal_token text,
    is_lead boolean DEFAULT false NOT NULL,
    revoked_at timestamp with time zone,
    left_out_at timestamp with time zone,
    left_out_why text,
    CONSTRAINT voters_check CHECK (((left_out_at IS NULL) = (left_out_why IS NULL))),
    CONSTRAINT voters_personal_token_check CHECK ((length(personal_token) >= 22))
);


--
-- Name: workers; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.workers (
    id uuid NOT NULL,
    kind text NOT NULL,
    host text NOT NULL,
    place text NOT NULL,
    pid integer NOT NULL,
    capacity integer NOT NULL,
    renderer_version text,
    queue_ids text[] DEFAULT '{}'::text[] NOT NULL,
    started_at timestamp with time zone DEFAULT now() NOT NULL,
    seen_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT workers_capacity_check CHECK ((capacity > 0)),
    CONSTRAINT workers_kind_check CHECK ((kind = ANY (ARRAY['server'::text, 'generate'::text, 'render'::text])))
);


--
-- Data for Name: attempts; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.attempts VALUES ('e9e2faa8-f5ff-4c22-9973-8d2055e32cb6', '178d9113-e5c0-41b7-a38a-5be2ac72a337', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.132841+00', '2026-11-27 07:57:51.201064+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 63, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('74f820ca-37bb-4334-bf66-bfda26678bbc', '915e5302-b7e0-4cfa-b6fc-1572210a5e50', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.231855+00', '2026-11-27 07:57:51.243414+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 8.3, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('a48f8d2a-98ff-4a31-be89-1b5ddb77ac40', 'fdd423e7-aad0-4eae-b730-ef40abc18597', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.26795+00', '2026-11-27 07:57:51.294546+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5683795401222096</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 19.3, 23.7, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('d72675d3-8f12-48c4-bddf-b6dffe1f1951', 'fcbfdc82-3971-4caa-b97e-5f04d0bbff6f', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.363441+00', '2026-11-27 07:57:51.378106+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 10.7, 12.1, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('f5747e3c-a471-488a-8fcf-e5f04c17ba5c', 'fcbfdc82-3971-4caa-b97e-5f04d0bbff6f', 2, 'again', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.388617+00', '2026-11-27 07:57:51.411119+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 12.3, 19.1, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('c7112f75-fd41-46ba-9348-71a8142efa6c', '571e81b3-e116-40e9-9d18-eedf38f2c8d9', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.487041+00', '2026-11-27 07:57:51.499561+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 8, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('8a52b196-be40-414f-adb2-fbd282b09be3', '78b21d2c-0135-4ce4-8dbb-5653020f6906', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.515557+00', '2026-11-27 07:57:51.525798+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 7.9, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('bf1ae6a3-3ea5-4a55-9dab-ee013e02d996', 'efb76505-b24c-4c43-a2ec-425e7641ec7a', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.540266+00', '2026-11-27 07:57:51.552411+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.7759276749499373</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 8.4, 9.6, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('ca85c063-7510-446b-af69-b1567e9e5b04', 'f3512a0d-a083-48d8-8d86-5fe639273bd9', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.572292+00', '2026-11-27 07:57:51.585787+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.21936624452457276</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 9.6, 10.8, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('ca504130-32e1-49a7-b186-071a2ff271a7', '500026e0-1711-4386-a349-7fae19f77584', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.643733+00', '2026-11-27 07:57:51.654078+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 6.9, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('b888dff6-c7da-4199-b165-bb742d962aff', '77917347-7569-45f5-8cfa-87e3ee364ddf', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.668983+00', '2026-11-27 07:57:51.677422+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 5.9, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('9b45e1d9-1e79-438c-855d-cc561d5dcec1', '1f4c5299-37f8-4643-a0b1-7460c18a4023', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}, {"role": "assistant", "content": "Here it is.\n\n```html\n<!doctype html>\n<html><body><h1>made 0.7759276749499373</h1></body></html>\n```\n"}, {"role": "user", "content": "Now animate it.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.706859+00', '2026-11-27 07:57:51.721713+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5280371278756726</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 9.1, 10.3, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('83000a78-a3a5-44c7-b060-2e49b312ed11', '0ef8c9ef-a7e9-4ab7-963b-03a05966c9be', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.740414+00', '2026-11-27 07:57:51.752006+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.585677524526061</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 8.1, 8.9, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('e3c1167c-4e59-4ccd-a448-4ca68de96211', '964d6a3f-3116-45d0-bf53-6aac873979ad', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.808197+00', '2026-11-27 07:57:51.818427+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 5.4, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('26922041-6281-49a4-b060-bfa9a42037f9', '4c3cdb7c-341b-4a67-b68c-d87ef28b3353', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.841047+00', '2026-11-27 07:57:51.851389+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 7.8, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('8d7b6f87-649d-47d7-bc50-07006a063678', 'a08f39fc-5f16-4a9a-8f08-8011189c0fe7', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.86634+00', '2026-11-27 07:57:51.879754+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5198105088525351</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 7.7, 8.6, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('7869ef14-1f9a-4730-a9ff-fe88ea30fb8e', '8639e7a6-81c6-447e-944e-70534f55180c', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.899056+00', '2026-11-27 07:57:51.909608+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 7.2, 8.2, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('7c58858c-2400-46a5-8c39-d9529e2bbee9', '8639e7a6-81c6-447e-944e-70534f55180c', 2, 'again', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.912738+00', '2026-11-27 07:57:51.925065+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 7.9, 8.6, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('03a9acee-f6b7-488b-b38c-d3634d479b29', '98142199-68bc-46fd-957a-04e3da84beba', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.969738+00', '2026-11-27 07:57:51.975442+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 3.6, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('3e856b5a-bd07-4461-9f5b-16de4551f2b0', '1b63ce5a-60e8-4d3b-a583-454c91ea758b', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:51.990596+00', '2026-11-27 07:57:51.997798+00', 'unauthorized', '401: Incorrect key', 'Check the key in the named environment variable, then restart and retry.', 401, '{"date": "Fri, 27 Nov 2026 07:57:51 GMT"}', '', '', NULL, NULL, 4.6, NULL, NULL, NULL, false);
INSERT INTO public.attempts VALUES ('c8011a68-9171-4871-9ac3-a4ad10ce2ec8', '4579c5fd-d271-453c-9f1a-cd5dae05856e', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.017043+00', '2026-11-27 07:57:52.030003+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.4638525723780298</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 9.4, 10.3, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('c594dbcf-fe99-43d6-ac1d-4f498eb2357d', 'fa33ef43-2495-4f2f-a511-2334ace2e012', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.062341+00', '2026-11-27 07:57:52.074264+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.858858961821287</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 8.1, 9.2, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('765c9d29-ce5b-4403-b566-b7978aafb7d9', 'c4fd7dda-a79f-4429-adca-919d3cad4997', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}, {"role": "assistant", "content": "Here it is.\n\n```html\n<!doctype html>\n<html><body><h1>made 0.4638525723780298</h1></body></html>\n```\n"}, {"role": "user", "content": "Now animate it.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.141493+00', '2026-11-27 07:57:52.151104+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.7814345832110434</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 6.3, 7.3, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('c6413125-bcaa-4dbc-98c8-cd92d0cbc44a', 'c8130016-35da-4335-976a-beea5609a139', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.169067+00', '2026-11-27 07:57:52.178525+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.3121084404200045</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 6.2, 7, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('3a4fa55b-af03-46a4-96b2-9a55a4ecd1f8', '0d702d13-38de-4c2e-bd04-a174ba10e266', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.28507+00', '2026-11-27 07:57:52.302831+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.23144349308481726</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 13.9, 15.3, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('e4acdcff-768b-4fe7-9485-9630c2ca3953', '94b41094-190a-4346-9502-9241d89f601b', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.407705+00', '2026-11-27 07:57:52.417361+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.2566735993256215</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 6.4, 7.1, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('e7d2d2f3-5a72-4b91-9551-7a22987baede', 'f6103881-9637-439e-a046-dfc12d89397c', 1, 'first', '{"model": "heath-1", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.495618+00', '2026-11-27 07:57:52.50382+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.7756924313021558</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5.4, 6.1, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('e4793c7d-94e9-4b89-bff8-495a58cde7b1', 'bc6cccc9-8774-4a56-a03b-b91db3a52749', 1, 'first', '{"model": "heath-1", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.529466+00', '2026-11-27 07:57:52.537943+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5.5, 6.1, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('1463a1ca-f4d4-4cc8-94d0-de44de58f018', 'bc6cccc9-8774-4a56-a03b-b91db3a52749', 2, 'again', '{"model": "heath-1", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.541213+00', '2026-11-27 07:57:52.548883+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 4.8, 5.4, 'stop', 'the-model', 0.005, false);
INSERT INTO public.attempts VALUES ('1fe62581-d629-4534-9860-ec3e76325506', '15f040b2-7d3f-44fe-aa07-8e36008967ff', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a bright lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.732099+00', '2026-11-27 07:57:52.74345+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.8417297975925213</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 7.2, 8.1, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('6fe7a496-408b-42e8-a44e-e744783c31b5', '57ecba58-171f-4be1-ac84-cea38e23a23e', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.77299+00', '2026-11-27 07:57:52.793983+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 15.1, 15.7, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('b33d22cb-c1db-4231-a6e7-2e8cd6cc1dae', '57ecba58-171f-4be1-ac84-cea38e23a23e', 2, 'again', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.796982+00', '2026-11-27 07:57:52.806007+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'I cannot help with that request.', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5.6, 6.4, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('fea0ba25-ac74-48c5-93c8-f18822716d2e', '304656f2-a2ee-4f9b-bf8e-d755000e6cf4', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.855431+00', '2026-11-27 07:57:52.864225+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5612128517894925</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5.4, 6.1, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('60c15a7b-4724-4d5d-9082-d1737d1cd599', 'f3682676-5643-44e9-83c8-f96b5e38f7dd', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.882865+00', '2026-11-27 07:57:52.890786+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.006025355940347588</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5, 5.7, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('298651e3-a3b4-4a94-83a6-d25626008370', '9b61c20c-14aa-4465-bb9f-f0bb0c8dedea', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}, {"role": "assistant", "content": "Here it is.\n\n```html\n<!doctype html>\n<html><body><h1>made 0.5612128517894925</h1></body></html>\n```\n"}, {"role": "user", "content": "Now animate it.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.941814+00', '2026-11-27 07:57:52.953072+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.6878162912138981</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5.7, 6.4, 'stop', 'the-model', 0.0005, false);
INSERT INTO public.attempts VALUES ('a1f8c3c9-b75c-4547-a588-7273f2ff0e2b', '0ddc5e46-fe71-4879-afca-6d2ac45c611d', 1, 'first', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', '2026-11-27 07:57:52.976961+00', '2026-11-27 07:57:52.985118+00', 'answered', NULL, NULL, 200, '{"date": "Fri, 27 Nov 2026 07:57:52 GMT", "x-request-id": "r1"}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.46888098567177194</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', 5.2, 5.8, 'stop', 'the-model', 0.0005, false);


--
-- Data for Name: audit_trail; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.audit_trail OVERRIDING SYSTEM VALUE VALUES (1, '2026-11-27 07:57:53.078833+00', 'lead', 'made a panel', '903275ec-0a34-4fdf-a238-07f0866df70a', NULL, '{}');
INSERT INTO public.audit_trail OVERRIDING SYSTEM VALUE VALUES (2, '2026-11-27 07:57:53.297617+00', 'voter', 'took back a ballot', '903275ec-0a34-4fdf-a238-07f0866df70a', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', '{"boutId": "72a7e8a9-b1ef-432f-bc22-ea4960035e37"}');
INSERT INTO public.audit_trail OVERRIDING SYSTEM VALUE VALUES (3, '2026-11-27 07:57:53.315721+00', 'lead', 'made a panel', '582f024d-2195-43d0-9e29-3abea6e3f587', NULL, '{}');
INSERT INTO public.audit_trail OVERRIDING SYSTEM VALUE VALUES (4, '2026-11-27 07:57:53.380231+00', 'voter', 'took back a ballot', '582f024d-2195-43d0-9e29-3abea6e3f587', 'd2180571-14b3-4352-b59f-c781b417973d', '{"boutId": "30095b1a-c4d3-4b6c-9f6d-75dbe82732e6"}');


--
-- Data for Name: ballots; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.ballots VALUES ('98f8951a-adc3-4388-a6bf-84c3e6aadfbd', 'b57cfd37-5314-49e5-8079-651b4ab2f8af', -2, true, true, '[]', '', 1000, '2026-11-27 07:57:53.146687+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('41d60e2a-538f-461c-8069-2db8a4a9dda3', '1120efc5-99c0-4865-96ea-872412acbc22', -1, true, true, '[]', 'a note', 1001, '2026-11-27 07:57:53.166305+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('ae7f2441-b7e9-4f90-b8ba-e90ca4d19bc2', 'e317ffaf-89a5-4631-8a1f-6bcf2d4a25ed', 0, true, false, '[]', '', 1002, '2026-11-27 07:57:53.179893+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('40a5580b-3145-4dd6-b621-ee70781869f8', 'f80edf42-14d8-4fe4-b913-8f1158151ad6', 2, true, true, '[]', '', 1004, '2026-11-27 07:57:53.200167+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('dd06f56a-4c90-4342-b424-064a3b70822e', '94a55520-4192-470d-8a84-42cfd79ab1b8', -2, true, true, '[]', '', 1000, '2026-11-27 07:57:53.234689+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('22060008-bf76-4bf3-870b-b9e355a5d24f', '58e0ebb1-440e-4788-9eaa-2feccdaa3ce8', -1, true, true, '[]', 'a note', 1001, '2026-11-27 07:57:53.24963+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('3d2b1a74-9f30-4e34-b56c-08bf9c5dc624', '617ce1b3-8c9e-42bb-bc71-a31f4b06040e', 0, true, false, '[]', '', 1002, '2026-11-27 07:57:53.263351+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('412c05ca-a9c6-4530-a620-da20c6927d5d', '72a7e8a9-b1ef-432f-bc22-ea4960035e37', 2, true, true, '[]', '', 1004, '2026-11-27 07:57:53.287945+00', '2026-11-27 07:57:53.297617+00', 'taken back by the voter', NULL, NULL, '4', '2', 'voter');
INSERT INTO public.ballots VALUES ('544ddf13-e870-4cd2-ae81-61e4b8e8d923', 'a4afabaa-0e96-4966-82a5-f9f2023233f4', -2, true, true, '[]', '', 1000, '2026-11-27 07:57:53.358244+00', NULL, NULL, NULL, NULL, '4', '2', NULL);
INSERT INTO public.ballots VALUES ('5eec249d-e996-4f73-9350-1f6428226884', '30095b1a-c4d3-4b6c-9f6d-75dbe82732e6', -2, true, true, '[]', '', 1000, '2026-11-27 07:57:53.373393+00', '2026-11-27 07:57:53.380231+00', 'taken back by the voter', NULL, NULL, '4', '2', 'voter');


--
-- Data for Name: booth_exclusions; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: bouts; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.bouts VALUES ('b57cfd37-5314-49e5-8079-651b4ab2f8af', '6082d920-737e-430d-b6b8-7cb9e9031c48', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '81f8830f-b79c-445d-8c83-400b62101929', '1527573b-7150-457c-9dde-db0df0e194cf', 1, 'svJLGXq9sEx7iGjt4uSmRs2l', 'IyoEGmblFGLUYWwa-y0RlP5y', 'hSjAiiyS0GVyZbVyQBU2gox4', 'these two had met 0 times', '2026-11-27 07:57:53.129214+00', false, NULL, NULL, false, '8a6af2cd-2147-48df-b540-bf439bfcbac9', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72');
INSERT INTO public.bouts VALUES ('1120efc5-99c0-4865-96ea-872412acbc22', '6082d920-737e-430d-b6b8-7cb9e9031c48', 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', '6f20b52b-f165-4a30-a596-c2be167e2a6c', 'abc672d0-4b1b-4cec-87c2-587cbb54387d', 2, 'Et9O6Z_HEZqPqp-Na8QDdUvx', 'hQB43JZ_hQvPYy_GJhQd4PxW', 'RUTyNVXfzx6P3yGVcZHoHF5-', 'these two had met 0 times', '2026-11-27 07:57:53.129214+00', false, NULL, NULL, false, 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9');
INSERT INTO public.bouts VALUES ('e317ffaf-89a5-4631-8a1f-6bcf2d4a25ed', '6082d920-737e-430d-b6b8-7cb9e9031c48', '539701d4-7ac8-4d81-9606-4194d913c37f', '4d334bfb-9ddd-45a8-afbc-36b70623e300', 'a65fbdc8-7817-4b36-9980-8bc0927b52f3', 3, 'R_snr7SFtm9hA-msk78pbz4P', '9AMWGHoKjsjYHY-RmvP5PTvv', 'j5TDjmSr6p47D8f9zxI0zdTy', 'the pair compared least, 1 times, among those that nothing is known of', '2026-11-27 07:57:53.146687+00', false, NULL, NULL, false, '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e');
INSERT INTO public.bouts VALUES ('f80edf42-14d8-4fe4-b913-8f1158151ad6', '6082d920-737e-430d-b6b8-7cb9e9031c48', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c71f6087-54d4-439c-b66f-64c87e5cf52b', '81f8830f-b79c-445d-8c83-400b62101929', 5, 'm0fMFf3BJxAv5fiBTzlq9jMw', '-z9oraqTez4Ppez3sysGXuZA', 'MNmgF9j10KLHw_eldCrw1t4q', 'the pair compared least, 2 times, among those that nothing is known of', '2026-11-27 07:57:53.179893+00', false, NULL, NULL, false, 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9');
INSERT INTO public.bouts VALUES ('f6c03ac7-d521-4576-a3e5-cc0ce72c0f07', '6082d920-737e-430d-b6b8-7cb9e9031c48', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '1527573b-7150-457c-9dde-db0df0e194cf', 'c71f6087-54d4-439c-b66f-64c87e5cf52b', 4, 'QEzDPvq8GWBxhsMv5i4CHkHR', 'riddnRggl3kUtQhoNex65Fj5', '0BztWpKJwzrAxhTiq8TN56U4', 'these two had met 0 times', '2026-11-27 07:57:53.166305+00', false, '2026-11-27 07:57:53.190117+00', 'both_bad', false, '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', 'c687bc6b-9a0f-4704-97c2-8b503939365e');
INSERT INTO public.bouts VALUES ('94a55520-4192-470d-8a84-42cfd79ab1b8', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'f64c887a-f55e-4e42-9a3c-7d61c5878e2d', '1527573b-7150-457c-9dde-db0df0e194cf', 1, 'pwtRP6z6R9mMjdQ8gciCAFeJ', 'mYJ5I5fHWS_GNCmEBaOSukAQ', 'CMC-mko09IgS7sl-E2ClIcmM', 'the pair compared least, 1 times, among those that nothing is known of', '2026-11-27 07:57:53.223431+00', false, NULL, NULL, false, 'c687bc6b-9a0f-4704-97c2-8b503939365e', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72');
INSERT INTO public.bouts VALUES ('58e0ebb1-440e-4788-9eaa-2feccdaa3ce8', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', '539701d4-7ac8-4d81-9606-4194d913c37f', '4d334bfb-9ddd-45a8-afbc-36b70623e300', 'a65fbdc8-7817-4b36-9980-8bc0927b52f3', 2, 'ksqBIDj5UQmYDfRDqVey1JOq', 'OwXK182x3t7SZBxR-mIA_hz3', 'FJguQuIsKha-EaGj2d15bJII', 'the pair compared least, 3 times, among those that nothing is known of', '2026-11-27 07:57:53.223431+00', false, NULL, NULL, false, '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e');
INSERT INTO public.bouts VALUES ('617ce1b3-8c9e-42bb-bc71-a31f4b06040e', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', '6f20b52b-f165-4a30-a596-c2be167e2a6c', 'abc672d0-4b1b-4cec-87c2-587cbb54387d', 3, 'QKnB5-yE8A8SaPQrJyI22eLf', 'ImqKhSVsQTCqL3woOU5gizwb', 'Uextjqki5_Kux8fx0BcOD0rU', 'the pair compared least, 4 times', '2026-11-27 07:57:53.234689+00', false, NULL, NULL, false, 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9');
INSERT INTO public.bouts VALUES ('5b88cf5a-8ca8-4ed6-b651-d9ced8988407', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '1527573b-7150-457c-9dde-db0df0e194cf', '81f8830f-b79c-445d-8c83-400b62101929', 4, 'NWSm3d2eaIkm_guSuiv1C_VP', 'ZIlZ7iIaEhiiTJFXroYHNVIT', '589ut0lg9ZOhVS-sAZJYDLoQ', 'the pair compared least, 1 times', '2026-11-27 07:57:53.24963+00', false, '2026-11-27 07:57:53.279733+00', 'both_bad', false, '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', '8a6af2cd-2147-48df-b540-bf439bfcbac9');
INSERT INTO public.bouts VALUES ('72a7e8a9-b1ef-432f-bc22-ea4960035e37', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '81f8830f-b79c-445d-8c83-400b62101929', 'a22c425e-6f43-482d-b1e3-4b696415b3cc', 5, 'QnLHbfo1s51RwfWx80svRpDI', 'AncDS_GnZrCfFpVE4vk7KqWQ', 'fNF2czRWjHplMO-0xQdRT6r_', 'the pair compared least, 5 times', '2026-11-27 07:57:53.297617+00', false, NULL, NULL, false, '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e');
INSERT INTO public.bouts VALUES ('a4afabaa-0e96-4966-82a5-f9f2023233f4', 'a2d75dac-0eca-4132-95a9-7d1283f7b5d5', 'e9924738-6461-432f-98be-5e40b201a498', 'a33ab1d2-cbce-42ce-a810-59f324232199', '75103e07-699b-49ac-9b73-85be858a7a9b', 1, '732BfiD71FQweZy--Xle9kZl', 'wGt27rbxvVoQ7L_FL0t6gW44', 'JEi40A4-oLcct_1iKkvrCPB0', 'these two had met 0 times', '2026-11-27 07:57:53.346088+00', false, NULL, NULL, false, '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e');
INSERT INTO public.bouts VALUES ('30095b1a-c4d3-4b6c-9f6d-75dbe82732e6', 'd2180571-14b3-4352-b59f-c781b417973d', 'e9924738-6461-432f-98be-5e40b201a498', '75103e07-699b-49ac-9b73-85be858a7a9b', 'a33ab1d2-cbce-42ce-a810-59f324232199', 1, '3l2DXLjd9Pi1SSFTM69PXWGs', '2Mwz1NsmIaGaW8_7DjaDBPmj', 'kUW1qNdWooIwOxI6blZABKT3', 'the pair compared least, 1 times, among those that nothing is known of', '2026-11-27 07:57:53.380231+00', false, NULL, NULL, false, 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9');


--
-- Data for Name: editions; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.editions VALUES ('25e8d3cf-63cb-4e7d-8a16-716c6072a949', '4ecd7cc8-8b6c-4d4a-ae3c-f2f2e0db8c2f', 1, '0448b4a3a5bbee11b0fb704bb3038739fb2f38d3736b634d768144c29c6276b1', '{"key": "harbour", "title": "Harbour", "format": "tourney-suite/1", "sample": false, "prompts": [{"key": "lamp", "kind": "game", "tags": [], "text": "Build a small lamp.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Lamp", "motion": true, "stages": [], "seconds": 6, "summary": "Play.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}, {"key": "chart", "kind": "app", "tags": [], "text": "Build a chart.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Chart", "motion": false, "stages": [], "seconds": 6, "summary": "Read.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [{"path": "data/tides.json", "text": "[1, 2]"}], "furtherViewports": []}, {"key": "flag", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag", "motion": true, "stages": [{"text": "Now animate it."}], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works", {"text": "It moves", "evidence": "motion"}], "starterFiles": [], "furtherViewports": []}, {"key": "flag-plain", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag again", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "variantOf": {"change": "no animation", "prompt": "flag"}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}, {"key": "flag-twin", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag twin", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}], "description": "", "mendTemplate": "I opened what you made in a browser, and it reported:\n\n{errors}\n\nCorrect this and answer with the whole file, or all files, again."}', '2026-11-27 07:57:50.908194+00');
INSERT INTO public.editions VALUES ('af8cef6b-2d24-491d-accf-f4cb37cf6945', '4ecd7cc8-8b6c-4d4a-ae3c-f2f2e0db8c2f', 2, '2f0f8d3e3497b21cda043bcd46b7e68590610f6c325e864b1504a5c239796493', '{"key": "harbour", "title": "Harbour lights", "format": "tourney-suite/1", "sample": false, "prompts": [{"key": "lamp", "kind": "game", "tags": [], "text": "Build a bright lamp.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Lamp", "motion": true, "stages": [], "seconds": 6, "summary": "Play.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}, {"key": "chart", "kind": "app", "tags": [], "text": "Build a chart.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Chart", "motion": false, "stages": [], "seconds": 6, "summary": "Read.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [{"path": "data/tides.json", "text": "[1, 2]"}], "furtherViewports": []}, {"key": "flag", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag", "motion": true, "stages": [{"text": "Now animate it."}], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works", {"text": "It moves", "evidence": "motion"}], "starterFiles": [], "furtherViewports": []}, {"key": "flag-plain", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag again", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "variantOf": {"change": "no animation", "prompt": "flag"}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}, {"key": "flag-twin", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag twin", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}], "description": "", "mendTemplate": "I opened what you made in a browser, and it reported:\n\n{errors}\n\nCorrect this and answer with the whole file, or all files, again."}', '2026-11-27 07:57:52.675054+00');


--
-- Data for Name: endpoints; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.endpoints VALUES ('fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 'chat-completions', 'http://127.0.0.1:46495/v1', NULL, 2, NULL, NULL, 0, NULL, NULL);
INSERT INTO public.endpoints VALUES ('9ee35595-de72-4a84-a2d7-5f8da4d5068e', 'by-hand', NULL, NULL, 1, NULL, NULL, 0, NULL, NULL);
INSERT INTO public.endpoints VALUES ('6e292bb6-77dd-483f-9d66-ec241db675fa', 'chat-completions', 'http://127.0.0.1:34853/v1', NULL, 2, NULL, NULL, 0, NULL, NULL);


--
-- Data for Name: entrant_versions; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.entrant_versions VALUES ('c687bc6b-9a0f-4704-97c2-8b503939365e', 1, '{"model": "the-model", "prices": {"input": 10, "output": 20, "currency": "USD"}, "endpoint": {"baseUrl": "http://127.0.0.1:34853/v1", "protocol": "chat-completions", "concurrency": 2}, "settings": {"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}}', '2026-11-27 07:57:50.941546+00');
INSERT INTO public.entrant_versions VALUES ('08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', 1, '{"model": "heath-1", "prices": {"input": 10, "output": 20, "currency": "USD"}, "endpoint": {"baseUrl": "http://127.0.0.1:34853/v1", "protocol": "chat-completions", "concurrency": 2}, "settings": {"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}}', '2026-11-27 07:57:50.959709+00');
INSERT INTO public.entrant_versions VALUES ('ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, '{"model": "the-model", "prices": {"input": 10, "output": 20, "currency": "USD"}, "endpoint": {"baseUrl": "http://127.0.0.1:46495/v1", "protocol": "chat-completions", "concurrency": 2}, "settings": {"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}}', '2026-11-27 07:57:50.973973+00');
INSERT INTO public.entrant_versions VALUES ('8a6af2cd-2147-48df-b540-bf439bfcbac9', 1, '{"model": "thrift", "prices": null, "endpoint": {"protocol": "by-hand"}, "settings": {"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}}', '2026-11-27 07:57:50.984015+00');
INSERT INTO public.entrant_versions VALUES ('c687bc6b-9a0f-4704-97c2-8b503939365e', 2, '{"model": "the-model", "prices": {"input": 1, "output": 2, "currency": "USD"}, "endpoint": {"baseUrl": "http://127.0.0.1:34853/v1", "protocol": "chat-completions", "concurrency": 2}, "settings": {"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}}', '2026-11-27 07:57:52.221849+00');
INSERT INTO public.entrant_versions VALUES ('c687bc6b-9a0f-4704-97c2-8b503939365e', 3, '{"model": "the-model", "prices": {"input": 1, "output": 2, "currency": "USD"}, "endpoint": {"baseUrl": "http://127.0.0.1:34853/v1", "protocol": "chat-completions", "concurrency": 2}, "settings": {"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}, "temperature": 0.5}}', '2026-11-27 07:57:52.350777+00');


--
-- Data for Name: entrants; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.entrants VALUES ('08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', 'heath', 'Name of heath', '', '6e292bb6-77dd-483f-9d66-ec241db675fa', 'heath-1', '{"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}', '{"input": 10, "output": 20, "currency": "USD"}', 1, false, '2026-11-27 07:57:50.967933+00', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '[]', 1, NULL);
INSERT INTO public.entrants VALUES ('ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 'sedge', 'Name of sedge', '', 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 'the-model', '{"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}', '{"input": 10, "output": 20, "currency": "USD"}', 2, false, '2026-11-27 07:57:50.978142+00', NULL, '[]', 1, NULL);
INSERT INTO public.entrants VALUES ('8a6af2cd-2147-48df-b540-bf439bfcbac9', 'thrift', 'Name of thrift', '', '9ee35595-de72-4a84-a2d7-5f8da4d5068e', 'thrift', '{"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}}', NULL, 3, false, '2026-11-27 07:57:50.990902+00', NULL, '[]', 1, NULL);
INSERT INTO public.entrants VALUES ('c687bc6b-9a0f-4704-97c2-8b503939365e', 'gorse', 'Name of gorse', '', '6e292bb6-77dd-483f-9d66-ec241db675fa', 'the-model', '{"timeLimits": {"totalSeconds": 1200, "firstTokenSeconds": 180, "betweenTokensSeconds": 90}, "temperature": 0.5}', '{"input": 1, "output": 2, "currency": "USD"}', 0, true, '2026-11-27 07:57:50.948437+00', NULL, '[]', 3, NULL);


--
-- Data for Name: entries; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.entries VALUES ('c71f6087-54d4-439c-b66f-64c87e5cf52b', 'fdd423e7-aad0-4eae-b730-ef40abc18597', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "ec4bf525154021681d43bbc12fe6ebf6dd1f7b509f7976220b2e15392b55f6a0"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:51.443067+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('0880fe4b-b4c0-478c-b02d-95144d4658eb', 'fcbfdc82-3971-4caa-b97e-5f04d0bbff6f', 0, 'refusal', 'none', NULL, '[]', '[{"why": "it declines and builds nothing", "part": "the whole answer", "action": "noted"}]', '2026-11-27 07:57:51.457938+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('53398c6a-88ad-4ed3-a645-72343a970ef7', 'efb76505-b24c-4c43-a2ec-425e7641ec7a', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "fd5a9cf3a54e16a060193337d41e5ed1ca6574e5339f3320e24303d925cd560c"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:51.604599+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('a65fbdc8-7817-4b36-9980-8bc0927b52f3', 'f3512a0d-a083-48d8-8d86-5fe639273bd9', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 76, "sha256": "edae9a9056bdc82155b8579d80f1ebcd09745661265cfc7718fc44f73cba0f8d"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:51.616048+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('00b6056f-c6c2-497f-b40b-bd31581733a9', '1f4c5299-37f8-4643-a0b1-7460c18a4023', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "6578c98678da787b50d7083dd33cf98615de9d5115c4aa57f9adf5fedeee48e3"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:51.770201+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('c6d3832a-a808-4b89-afcd-32d52d5e2269', '0ef8c9ef-a7e9-4ab7-963b-03a05966c9be', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 74, "sha256": "bace99b69911ebee3d4ffa24655efc5effb4bf5d8e90a1b1d5edeb37e37ef758"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:51.781162+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('f64c887a-f55e-4e42-9a3c-7d61c5878e2d', 'a08f39fc-5f16-4a9a-8f08-8011189c0fe7', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "efbc8ea4b1477418f1de9cc5472d1284a68abec652eb8ccc1efc29973a195b0b"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:51.939213+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('ee9ac25e-ea57-4215-8f33-fca400bec2b7', '8639e7a6-81c6-447e-944e-70534f55180c', 0, 'refusal', 'none', NULL, '[]', '[{"why": "it declines and builds nothing", "part": "the whole answer", "action": "noted"}]', '2026-11-27 07:57:51.948101+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('7252c0a7-facf-4d22-9dcf-3dbc64a88b67', '4579c5fd-d271-453c-9f1a-cd5dae05856e', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "46ca6a86d286814fd35e5bda97db5ad2d8928961668ad6fa22b6f1340a3e0ebc"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.094683+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('eb10735c-9e7e-4ae3-98dc-618d947572ec', 'fa33ef43-2495-4f2f-a511-2334ace2e012', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 74, "sha256": "172bc0fa5208c5dce3d77d6c7b47b86de8f7bddb54c5c3256893404c8c1b4679"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.110851+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('ad8f845f-620f-4caf-8f49-36f29f0614f2', 'c4fd7dda-a79f-4429-adca-919d3cad4997', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "8127afaf47e246c94a0aeb11176ac873c68be3a3e0392181e794798f97f5d81f"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.195865+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('6f20b52b-f165-4a30-a596-c2be167e2a6c', 'c8130016-35da-4335-976a-beea5609a139', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "f06da28317f08e166e56397209a34239d2df189c5b9545ecf0319ca170e42da8"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.209986+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('c4dd63c9-238d-4de1-b723-347966f3ec19', '0d702d13-38de-4c2e-bd04-a174ba10e266', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 76, "sha256": "61e5025790048342771ebfbcbcb7b3d32013eee816bfd74ff33c4ee7b8613745"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.340354+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('a22c425e-6f43-482d-b1e3-4b696415b3cc', '94b41094-190a-4346-9502-9241d89f601b', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "b54f9eca9b2e7f4dca1101f39f34f3c2708ecb63774faeaaf0ef6497c1f62310"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.436626+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('1527573b-7150-457c-9dde-db0df0e194cf', 'f6103881-9637-439e-a046-dfc12d89397c', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "7d455011c4e6fcfa1b1c925268df332865867553577f1d788c49aa84a9ce3f1a"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.577741+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('24471ae9-c923-41cc-a874-f2fd99b0576d', 'bc6cccc9-8774-4a56-a03b-b91db3a52749', 0, 'refusal', 'none', NULL, '[]', '[{"why": "it declines and builds nothing", "part": "the whole answer", "action": "noted"}]', '2026-11-27 07:57:52.59082+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('81f8830f-b79c-445d-8c83-400b62101929', '3e536e83-35ba-4e18-80dc-46b7f6009d32', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 59, "sha256": "9c14f5e250383854fa9f57862ba30d16cd2a9649f66b37eec6f40d37c825059c"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.612215+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('f5f43bb2-be50-4db0-9061-578a6824a3b8', 'a807d8cf-5dae-4cc2-83bc-239deeff446e', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 65, "sha256": "371ffaaf39a9f7b00a221cd08193ebd9a7cd12d9c27c7ffe4722b5316f7a50b1"}, {"path": "data/tides.json", "bytes": 6, "sha256": "3a316d6d3226f84c1e46e4447fa8d5fd800bff4a1bc6498152523cd4a602b69b"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.629608+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('4d334bfb-9ddd-45a8-afbc-36b70623e300', 'be4c0dcb-531d-4a5d-b1f8-aff39c7a605f', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 56, "sha256": "f5305a4f5c6c7448081b35e0f66e9c924e31506b810c95724f523a863a9735e2"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.646124+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('abc672d0-4b1b-4cec-87c2-587cbb54387d', '7b88dc94-931a-48dd-a6a2-1c5f713e3cb7', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 56, "sha256": "0db20ac1da055f81e34cbaebff8e5f7ef5e0f93c47eb9193c371d5c8ed2ac5c4"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.662186+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('3d233622-36ac-44dd-820f-ad067c58577a', '15f040b2-7d3f-44fe-aa07-8e36008967ff', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "9f893942821bfc395b8e18f6d86d59e00a6175264de8a59e01a269a5fcc04d25"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.824329+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('f155415d-a42d-467c-adb5-1fdb983ea699', '57ecba58-171f-4be1-ac84-cea38e23a23e', 0, 'refusal', 'none', NULL, '[]', '[{"why": "it declines and builds nothing", "part": "the whole answer", "action": "noted"}]', '2026-11-27 07:57:52.833113+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('0859a5b7-d206-4bae-9c5e-bcc24d8e9608', '304656f2-a2ee-4f9b-bf8e-d755000e6cf4', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "46c17f89e40df147ed131f87e4286cdb4dffb0424e56e654a9a17267ecbe5745"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.905158+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('75103e07-699b-49ac-9b73-85be858a7a9b', 'f3682676-5643-44e9-83c8-f96b5e38f7dd', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 77, "sha256": "592487bd920ece1f17fc4d70b43654734f9e51b89b22dbf24503c8247fea14c4"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:52.918578+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('6266d0ad-0a9d-46d3-bb41-14727ec0e6cc', '9b61c20c-14aa-4465-bb9f-f0bb0c8dedea', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 75, "sha256": "b20a001e15e274e70042d05dc9f4e402266aa5191f5172501d63322c9e6b9b02"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:53.003529+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('1f975b97-b808-456e-8d0b-bcd02b1069a7', '0ddc5e46-fe71-4879-afca-6d2ac45c611d', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 76, "sha256": "120f4df4b920bbbd493b7a26f96ba2004e80b49b6e03ab427bccd6f5e352e275"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:53.013364+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('a33ab1d2-cbce-42ce-a810-59f324232199', '2dbb4614-b866-471b-a5d2-d6dd23b0dda1', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 61, "sha256": "d30829515af1bbc6dd08c65c2c78792666870f0ac46e9e413e6e5fe68dac9aa6"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:53.033835+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', NULL, NULL);
INSERT INTO public.entries VALUES ('9842571e-f0fe-4c28-a664-7a4ffc4258fe', 'fdd423e7-aad0-4eae-b730-ef40abc18597', 0, 'ok', 'html', 'index.html', '[{"path": "index.html", "bytes": 24, "sha256": "19ae7b61f4fb9497eeb52c21265dd144b2ccc9a3536b01c7216a0466c1a0c4c0"}]', '[{"why": "it is the only page", "part": "fence 1 (html, lines 3–6)", "action": "taken"}]', '2026-11-27 07:57:53.061138+00', '{"leaks": [], "remote": [], "missing": [], "ruleBreaks": []}', 'c71f6087-54d4-439c-b66f-64c87e5cf52b', 'Index: index.html
===================================================================
--- index.html
+++ index.html
@@ -1,2 +1,1 @@
-<!doctype html>
-<html><body><h1>made 0.5683795401222096</h1></body></html>
+<!doctype html><p>mended
');


--
-- Data for Name: generations; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.generations VALUES ('d19c3fa6-2c2d-4087-a3c1-689903466f42', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, false, 'waiting', 0, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:51.026784+00', NULL, 2, 0, NULL, 8, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, NULL, NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('a790b90d-de4f-488d-9432-89b5e498b7e9', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 2, false, 'waiting', 0, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:51.026784+00', NULL, 2, 0, NULL, 20, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, NULL, NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('178d9113-e5c0-41b7-a38a-5be2ac72a337', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.210Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 2, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('915e5302-b7e0-4cfa-b6fc-1572210a5e50', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '57341742-b449-4226-8849-82104dbd1814', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.246Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 4, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('fcbfdc82-3971-4caa-b97e-5f04d0bbff6f', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '57341742-b449-4226-8849-82104dbd1814', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 2, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'I cannot help with that request.', '', '{"inputTokens": 200, "outputTokens": 400, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 19.1, "queuedMs": 337, "firstTokenMs": 12.3}', 0.01, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.417474+00', 1, 0, NULL, 3, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'refused', 'it declines and builds nothing', 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('571e81b3-e116-40e9-9d18-eedf38f2c8d9', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.502Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 7, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('78b21d2c-0135-4ce4-8dbb-5653020f6906', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '539701d4-7ac8-4d81-9606-4194d913c37f', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.529Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 10, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('500026e0-1711-4386-a349-7fae19f77584', '2b0a369e-4547-40c4-b98e-6f3d049296e9', 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 1, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.657Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 12, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('77917347-7569-45f5-8cfa-87e3ee364ddf', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 2, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.681Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 14, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('964d6a3f-3116-45d0-bf53-6aac873979ad', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '57341742-b449-4226-8849-82104dbd1814', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 2, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.821Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 16, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('4c3cdb7c-341b-4a67-b68c-d87ef28b3353', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 2, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.855Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 19, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('98142199-68bc-46fd-957a-04e3da84beba', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '539701d4-7ac8-4d81-9606-4194d913c37f', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 2, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:51.978Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 22, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('1b63ce5a-60e8-4d3b-a583-454c91ea758b', '2b0a369e-4547-40c4-b98e-6f3d049296e9', 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', 'ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0', 2, false, 'failed', 1, 'the-model', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, '[{"at": "2026-11-27T07:57:52.001Z", "cause": "unauthorized", "remedy": "Check the key in the named environment variable, then restart and retry.", "message": "401: Incorrect key", "httpStatus": 401}]', '2026-11-27 07:57:51.026784+00', NULL, 1, 0, NULL, 24, NULL, 'fe0ee39a-936b-42a2-bf9d-d9cf551b293a', 1, 0.12050000000000001, 'rejected', '401: Incorrect key', 1, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('bc6cccc9-8774-4a56-a03b-b91db3a52749', 'bd5765a2-bb1b-4462-8657-bd3d44e586b3', '57341742-b449-4226-8849-82104dbd1814', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', 1, false, 'answered', 2, 'heath-1', '{"model": "heath-1", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'I cannot help with that request.', '', '{"inputTokens": 200, "outputTokens": 400, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 5.4, "queuedMs": 75, "firstTokenMs": 4.8}', 0.01, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.454321+00', '2026-11-27 07:57:52.555279+00', 1, 0, NULL, 2, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.1205, 'refused', 'it declines and builds nothing', 0, '2026-11-27 07:57:52.454321+00', DEFAULT);
INSERT INTO public.generations VALUES ('fdd423e7-aad0-4eae-b730-ef40abc18597', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5683795401222096</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 23.7, "queuedMs": 241, "firstTokenMs": 19.3}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.328968+00', 1, 0, NULL, 1, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('0ef8c9ef-a7e9-4ab7-963b-03a05966c9be', '2b0a369e-4547-40c4-b98e-6f3d049296e9', 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.585677524526061</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 8.9, "queuedMs": 714, "firstTokenMs": 8.1}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.757031+00', 1, 0, NULL, 11, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('efb76505-b24c-4c43-a2ec-425e7641ec7a', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.7759276749499373</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 9.6, "queuedMs": 514, "firstTokenMs": 8.4}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.557547+00', 1, 0, NULL, 5, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('f3512a0d-a083-48d8-8d86-5fe639273bd9', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '539701d4-7ac8-4d81-9606-4194d913c37f', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.21936624452457276</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 10.8, "queuedMs": 546, "firstTokenMs": 9.6}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.590539+00', 1, 0, NULL, 9, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('1f4c5299-37f8-4643-a0b1-7460c18a4023', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}, {"role": "assistant", "content": "Here it is.\n\n```html\n<!doctype html>\n<html><body><h1>made 0.7759276749499373</h1></body></html>\n```\n"}, {"role": "user", "content": "Now animate it.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5280371278756726</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 10.3, "queuedMs": 149, "firstTokenMs": 9.1}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.726851+00', 2, 0, NULL, 6, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.557547+00', DEFAULT);
INSERT INTO public.generations VALUES ('8639e7a6-81c6-447e-944e-70534f55180c', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '57341742-b449-4226-8849-82104dbd1814', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, false, 'answered', 2, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'I cannot help with that request.', '', '{"inputTokens": 200, "outputTokens": 400, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 8.6, "queuedMs": 873, "firstTokenMs": 7.9}', 0.01, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.928473+00', 1, 0, NULL, 15, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'refused', 'it declines and builds nothing', 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('a08f39fc-5f16-4a9a-8f08-8011189c0fe7', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5198105088525351</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 8.6, "queuedMs": 840, "firstTokenMs": 7.7}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:51.884147+00', 1, 0, NULL, 13, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('3e536e83-35ba-4e18-80dc-46b7f6009d32', NULL, '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 1, true, 'answered', 0, 'thrift', NULL, 'Here it is.

```html
<!doctype html>
<html><body><h1>by hand</h1></body></html>
```
', NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:52.604313+00', '2026-11-27 07:57:52.604313+00', 1, 0, NULL, 0, NULL, NULL, 1, NULL, NULL, NULL, 0, '2026-11-27 07:57:52.604313+00', DEFAULT);
INSERT INTO public.generations VALUES ('a807d8cf-5dae-4cc2-83bc-239deeff446e', NULL, '57341742-b449-4226-8849-82104dbd1814', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 1, true, 'answered', 0, 'thrift', NULL, 'Here it is.

```html
<!doctype html>
<html><body><h1>chart by hand</h1></body></html>
```
', NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:52.620447+00', '2026-11-27 07:57:52.620447+00', 1, 0, NULL, 0, NULL, NULL, 1, NULL, NULL, NULL, 0, '2026-11-27 07:57:52.620447+00', DEFAULT);
INSERT INTO public.generations VALUES ('4579c5fd-d271-453c-9f1a-cd5dae05856e', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.4638525723780298</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 10.3, "queuedMs": 991, "firstTokenMs": 9.4}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:52.037072+00', 1, 0, NULL, 17, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('fa33ef43-2495-4f2f-a511-2334ace2e012', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '539701d4-7ac8-4d81-9606-4194d913c37f', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.858858961821287</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 9.2, "queuedMs": 1036, "firstTokenMs": 8.1}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:52.07828+00', 1, 0, NULL, 21, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('c4fd7dda-a79f-4429-adca-919d3cad4997', '2b0a369e-4547-40c4-b98e-6f3d049296e9', '04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}, {"role": "assistant", "content": "Here it is.\n\n```html\n<!doctype html>\n<html><body><h1>made 0.4638525723780298</h1></body></html>\n```\n"}, {"role": "user", "content": "Now animate it.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.7814345832110434</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 7.3, "queuedMs": 104, "firstTokenMs": 6.3}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:52.154636+00', 2, 0, NULL, 18, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:52.037072+00', DEFAULT);
INSERT INTO public.generations VALUES ('c8130016-35da-4335-976a-beea5609a139', '2b0a369e-4547-40c4-b98e-6f3d049296e9', 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.3121084404200045</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 7, "queuedMs": 1143, "firstTokenMs": 6.2}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:51.026784+00', '2026-11-27 07:57:52.18211+00', 1, 0, NULL, 23, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.12050000000000001, 'answered', NULL, 0, '2026-11-27 07:57:51.026784+00', DEFAULT);
INSERT INTO public.generations VALUES ('94b41094-190a-4346-9502-9241d89f601b', '5f3deffc-f211-4eb4-88c7-d924b6861a01', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 4, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.2566735993256215</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 7.1, "queuedMs": 40, "firstTokenMs": 6.4}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.367964+00', '2026-11-27 07:57:52.421361+00', 1, 0, NULL, 4, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.367964+00', DEFAULT);
INSERT INTO public.generations VALUES ('0d702d13-38de-4c2e-bd04-a174ba10e266', '96d1e08b-9d1e-45a0-8d9a-f44b98271adc', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 3, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.23144349308481726</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 15.3, "queuedMs": 40, "firstTokenMs": 13.9}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.245208+00', '2026-11-27 07:57:52.308384+00', 1, 0, NULL, 3, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 2, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.245208+00', DEFAULT);
INSERT INTO public.generations VALUES ('f6103881-9637-439e-a046-dfc12d89397c', 'bd5765a2-bb1b-4462-8657-bd3d44e586b3', '2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', 1, false, 'answered', 1, 'heath-1', '{"model": "heath-1", "stream": true, "messages": [{"role": "user", "content": "Build a small lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.7756924313021558</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 6.1, "queuedMs": 41, "firstTokenMs": 5.4}', 0.005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.454321+00', '2026-11-27 07:57:52.5071+00', 1, 0, NULL, 1, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 1, 0.1205, 'answered', NULL, 0, '2026-11-27 07:57:52.454321+00', DEFAULT);
INSERT INTO public.generations VALUES ('be4c0dcb-531d-4a5d-b1f8-aff39c7a605f', NULL, '539701d4-7ac8-4d81-9606-4194d913c37f', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 1, true, 'answered', 0, 'thrift', NULL, 'Here it is.

```html
<!doctype html>
<html><body><h1>flag</h1></body></html>
```
', NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:52.63843+00', '2026-11-27 07:57:52.63843+00', 1, 0, NULL, 0, NULL, NULL, 1, NULL, NULL, NULL, 0, '2026-11-27 07:57:52.63843+00', DEFAULT);
INSERT INTO public.generations VALUES ('7b88dc94-931a-48dd-a6a2-1c5f713e3cb7', NULL, 'ef8d4479-3d19-48f4-ad8e-33ce1acd718a', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 1, true, 'answered', 0, 'thrift', NULL, 'Here it is.

```html
<!doctype html>
<html><body><h1>twin</h1></body></html>
```
', NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:52.654783+00', '2026-11-27 07:57:52.654783+00', 1, 0, NULL, 0, NULL, NULL, 1, NULL, NULL, NULL, 0, '2026-11-27 07:57:52.654783+00', DEFAULT);
INSERT INTO public.generations VALUES ('15f040b2-7d3f-44fe-aa07-8e36008967ff', '5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', '44cc680b-83cf-474e-af44-3f07bfda99ed', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a bright lamp.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.8417297975925213</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 8.1, "queuedMs": 37, "firstTokenMs": 7.2}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.695979+00', '2026-11-27 07:57:52.755815+00', 1, 0, NULL, 1, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.695979+00', DEFAULT);
INSERT INTO public.generations VALUES ('f3682676-5643-44e9-83c8-f96b5e38f7dd', '5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', 'e9924738-6461-432f-98be-5e40b201a498', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.006025355940347588</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 5.7, "queuedMs": 187, "firstTokenMs": 5}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.695979+00', '2026-11-27 07:57:52.894207+00', 1, 0, NULL, 5, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.695979+00', DEFAULT);
INSERT INTO public.generations VALUES ('57ecba58-171f-4be1-ac84-cea38e23a23e', '5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', '1b87273e-557f-47a4-b298-004498c9f19f', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 2, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Build a chart.\n\nAnswer with one HTML file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'I cannot help with that request.', '', '{"inputTokens": 200, "outputTokens": 400, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 6.4, "queuedMs": 77, "firstTokenMs": 5.6}', 0.001, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.695979+00', '2026-11-27 07:57:52.809638+00', 1, 0, NULL, 2, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'refused', 'it declines and builds nothing', 0, '2026-11-27 07:57:52.695979+00', DEFAULT);
INSERT INTO public.generations VALUES ('304656f2-a2ee-4f9b-bf8e-d755000e6cf4', '5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', 'a316af86-cbef-4f98-995a-a3e7de607a49', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.5612128517894925</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 6.1, "queuedMs": 160, "firstTokenMs": 5.4}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.695979+00', '2026-11-27 07:57:52.868228+00', 1, 0, NULL, 3, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.695979+00', DEFAULT);
INSERT INTO public.generations VALUES ('9b61c20c-14aa-4465-bb9f-f0bb0c8dedea', '5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', 'a316af86-cbef-4f98-995a-a3e7de607a49', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}, {"role": "assistant", "content": "Here it is.\n\n```html\n<!doctype html>\n<html><body><h1>made 0.5612128517894925</h1></body></html>\n```\n"}, {"role": "user", "content": "Now animate it.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.6878162912138981</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 6.4, "queuedMs": 73, "firstTokenMs": 5.7}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.695979+00', '2026-11-27 07:57:52.959908+00', 2, 0, NULL, 4, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.868228+00', DEFAULT);
INSERT INTO public.generations VALUES ('0ddc5e46-fe71-4879-afca-6d2ac45c611d', '5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', '82c89575-233b-4289-81a1-38509de3f646', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 1, false, 'answered', 1, 'the-model', '{"model": "the-model", "stream": true, "messages": [{"role": "user", "content": "Draw a flag.\n\nAnswer with one HTML or SVG file that holds everything it needs, in a fenced code block.\nDo not use third-party libraries.\nIt is shown at 1280 × 800 pixels, without a network connection.\n"}], "temperature": 0.5, "stream_options": {"include_usage": true}}', 'Here it is.

```html
<!doctype html>
<html><body><h1>made 0.46888098567177194</h1></body></html>
```
', '', '{"inputTokens": 100, "outputTokens": 200, "reasoningTokens": 0, "cachedInputTokens": 0}', '{"totalMs": 5.8, "queuedMs": 281, "firstTokenMs": 5.2}', 0.0005, 'stop', 'the-model', '[]', '2026-11-27 07:57:52.695979+00', '2026-11-27 07:57:52.988079+00', 1, 0, NULL, 6, NULL, '6e292bb6-77dd-483f-9d66-ec241db675fa', 3, 0.000451, 'answered', NULL, 0, '2026-11-27 07:57:52.695979+00', DEFAULT);
INSERT INTO public.generations VALUES ('2dbb4614-b866-471b-a5d2-d6dd23b0dda1', NULL, 'e9924738-6461-432f-98be-5e40b201a498', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 1, true, 'answered', 0, 'thrift', NULL, 'Here it is.

```html
<!doctype html>
<html><body><h1>flag anew</h1></body></html>
```
', NULL, NULL, NULL, NULL, NULL, NULL, '[]', '2026-11-27 07:57:53.02773+00', '2026-11-27 07:57:53.02773+00', 1, 0, NULL, 0, NULL, NULL, 1, NULL, NULL, NULL, 0, '2026-11-27 07:57:53.02773+00', DEFAULT);


--
-- Data for Name: migrations; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.migrations VALUES ('202611250900-create-tables');
INSERT INTO public.migrations VALUES ('202611251000-deepen-runs');
INSERT INTO public.migrations VALUES ('202611251500-know-workers');
INSERT INTO public.migrations VALUES ('202611252000-count-ballots');
INSERT INTO public.migrations VALUES ('202611260000-deepen-voting');
INSERT INTO public.migrations VALUES ('202611260600-count-together');


--
-- Data for Name: panels; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.panels VALUES ('903275ec-0a34-4fdf-a238-07f0866df70a', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'Panel 1', '', 12, 'zeyzaqmNCIV8Au8Q0N0Z022V', false, '2026-11-27 07:57:53.071073+00', NULL, NULL, NULL, true, 'pair', NULL);
INSERT INTO public.panels VALUES ('582f024d-2195-43d0-9e29-3abea6e3f587', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'Panel 2', '', 12, 'RczTnv9YELxxvYR2oJ2ogEd0', false, '2026-11-27 07:57:53.312266+00', NULL, NULL, NULL, true, 'lose', NULL);


--
-- Data for Name: prompt_tallies; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.prompt_tallies VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '8a6af2cd-2147-48df-b540-bf439bfcbac9', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', -2, 1, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('ef8d4479-3d19-48f4-ad8e-33ce1acd718a', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', -1, 1, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('539701d4-7ac8-4d81-9606-4194d913c37f', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 0, 1, 0, 1, 0);
INSERT INTO public.prompt_tallies VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 2, 1, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', -2, 1, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('539701d4-7ac8-4d81-9606-4194d913c37f', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', -1, 1, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('ef8d4479-3d19-48f4-ad8e-33ce1acd718a', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 0, 1, 0, 1, 0);
INSERT INTO public.prompt_tallies VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, 0, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('e9924738-6461-432f-98be-5e40b201a498', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', -2, 1, 0, 0, 0);
INSERT INTO public.prompt_tallies VALUES ('e9924738-6461-432f-98be-5e40b201a498', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', -2, 0, 0, 0, 0);


--
-- Data for Name: prompts; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.prompts VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'lamp', 0, 'game', '{"key": "lamp", "kind": "game", "tags": [], "text": "Build a small lamp.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Lamp", "motion": true, "stages": [], "seconds": 6, "summary": "Play.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('57341742-b449-4226-8849-82104dbd1814', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'chart', 1, 'app', '{"key": "chart", "kind": "app", "tags": [], "text": "Build a chart.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Chart", "motion": false, "stages": [], "seconds": 6, "summary": "Read.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [{"path": "data/tides.json", "text": "[1, 2]"}], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('04f5c40a-98c7-4dfe-b6d9-b329e25eb7c9', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'flag', 2, 'drawing', '{"key": "flag", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag", "motion": true, "stages": [{"text": "Now animate it."}], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works", {"text": "It moves", "evidence": "motion"}], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('539701d4-7ac8-4d81-9606-4194d913c37f', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'flag-plain', 3, 'drawing', '{"key": "flag-plain", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag again", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "variantOf": {"change": "no animation", "prompt": "flag"}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('ef8d4479-3d19-48f4-ad8e-33ce1acd718a', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'flag-twin', 4, 'drawing', '{"key": "flag-twin", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag twin", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('44cc680b-83cf-474e-af44-3f07bfda99ed', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'lamp', 0, 'game', '{"key": "lamp", "kind": "game", "tags": [], "text": "Build a bright lamp.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Lamp", "motion": true, "stages": [], "seconds": 6, "summary": "Play.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('1b87273e-557f-47a4-b298-004498c9f19f', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'chart', 1, 'app', '{"key": "chart", "kind": "app", "tags": [], "text": "Build a chart.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Chart", "motion": false, "stages": [], "seconds": 6, "summary": "Read.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [{"path": "data/tides.json", "text": "[1, 2]"}], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('a316af86-cbef-4f98-995a-a3e7de607a49', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'flag', 2, 'drawing', '{"key": "flag", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag", "motion": true, "stages": [{"text": "Now animate it."}], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works", {"text": "It moves", "evidence": "motion"}], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('e9924738-6461-432f-98be-5e40b201a498', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'flag-plain', 3, 'drawing', '{"key": "flag-plain", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag again", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "variantOf": {"change": "no animation", "prompt": "flag"}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}');
INSERT INTO public.prompts VALUES ('82c89575-233b-4289-81a1-38509de3f646', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'flag-twin', 4, 'drawing', '{"key": "flag-twin", "kind": "drawing", "tags": [], "text": "Draw a flag.", "rules": {"framework": "allowed", "libraries": "forbidden", "singleFile": true}, "title": "Flag twin", "motion": false, "stages": [], "seconds": 6, "summary": "Look.", "viewport": {"width": 1280, "height": 800}, "walkthrough": [], "watchpoints": ["It works"], "starterFiles": [], "furtherViewports": []}');


--
-- Data for Name: rating_snapshots; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.rating_snapshots VALUES ('25e8d3cf-63cb-4e7d-8a16-716c6072a949', NULL, 'cumulative-logit/2 ridge=0.1 side=0.1 two-way-t holm', '9c34ad6bd8c6961d22627352df831bf867f1c490be83a338628d03ad22a2ea76', 7, '{"side": {"points": 60.06019676923901, "halfWidth": 270.6842218462296}, "ratings": [{"rating": 1764.3485984615659, "entrantId": "8a6af2cd-2147-48df-b540-bf439bfcbac9", "halfWidth": 1796.5872537285047, "rankRange": [1, 3]}, {"rating": 1670.4207535889366, "entrantId": "c687bc6b-9a0f-4704-97c2-8b503939365e", "halfWidth": 1682.298074573887, "rankRange": [1, 3]}, {"rating": 1065.2306479494976, "entrantId": "08af0a34-b6a4-4a23-9cf2-1e92b40dfc72", "halfWidth": 3019.521191908544, "rankRange": [1, 3]}, {"rating": null, "entrantId": "ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0", "halfWidth": null, "rankRange": null}]}', '2026-11-27 07:57:53.438315+00');
INSERT INTO public.rating_snapshots VALUES ('af8cef6b-2d24-491d-accf-f4cb37cf6945', NULL, 'cumulative-logit/2 ridge=0.1 side=0.1 two-way-t holm', 'd5cfde43527c93bc85ec07ea248463a4562773b33e8e7483e828ff40731dfadb', 1, '{"side": {"points": 140.6648976932729, "halfWidth": 944.6641571140915}, "ratings": [{"rating": 1640.664897693273, "entrantId": "8a6af2cd-2147-48df-b540-bf439bfcbac9", "halfWidth": null, "rankRange": [1, 2]}, {"rating": 1359.335102306727, "entrantId": "c687bc6b-9a0f-4704-97c2-8b503939365e", "halfWidth": null, "rankRange": [1, 2]}, {"rating": null, "entrantId": "08af0a34-b6a4-4a23-9cf2-1e92b40dfc72", "halfWidth": null, "rankRange": null}, {"rating": null, "entrantId": "ff2cd62b-d2b6-46fa-8673-ba191ba9c0f0", "halfWidth": null, "rankRange": null}]}', '2026-11-27 07:57:53.461583+00');


--
-- Data for Name: renders; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.renders VALUES ('a8c9f888-50da-40cf-b828-d2eb2d79821d', 'c71f6087-54d4-439c-b66f-64c87e5cf52b', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:51.443067+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('1d825f51-35df-481b-92f8-1e38806861ea', '53398c6a-88ad-4ed3-a645-72343a970ef7', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:51.604599+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('b59ff296-7818-4d23-ac9a-ebf2eaeb7dba', 'a65fbdc8-7817-4b36-9980-8bc0927b52f3', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:51.616048+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('acc4d911-110f-4f86-bdca-5b4889ede3d5', '00b6056f-c6c2-497f-b40b-bd31581733a9', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:51.770201+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('e8e414f6-0936-4904-b94e-ddbf6ea255ec', 'c6d3832a-a808-4b89-afcd-32d52d5e2269', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:51.781162+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('6f1d3ea1-bc82-4f5c-bf2e-6e3b779168e4', 'f64c887a-f55e-4e42-9a3c-7d61c5878e2d', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:51.939213+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('1dd75533-38eb-43f3-80dc-40044909ac34', '7252c0a7-facf-4d22-9dcf-3dbc64a88b67', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.094683+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('f40b3fcb-8b63-4665-a049-470d6aaeea27', 'eb10735c-9e7e-4ae3-98dc-618d947572ec', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.110851+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('14569a15-36c2-4d9c-8e86-b07a1dccc448', 'ad8f845f-620f-4caf-8f49-36f29f0614f2', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.195865+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('5097a112-8040-4ddf-8e2b-52e01aa9f0e5', '6f20b52b-f165-4a30-a596-c2be167e2a6c', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.209986+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('2ba799b6-32df-4256-b7d4-11c6fe547ded', 'c4dd63c9-238d-4de1-b723-347966f3ec19', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.340354+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('1df669da-7920-4acf-aaf4-91ff400834a5', 'a22c425e-6f43-482d-b1e3-4b696415b3cc', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.436626+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('0fd787fd-d37d-40f3-9c92-a46b9d66b50a', '1527573b-7150-457c-9dde-db0df0e194cf', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.577741+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('5b7cbdab-1c7e-4653-9f43-16cc9dd8329b', '81f8830f-b79c-445d-8c83-400b62101929', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.612215+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('452f6d27-a6fe-4f5d-8b14-c4aab196bd00', 'f5f43bb2-be50-4db0-9061-578a6824a3b8', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.629608+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('899be81b-5a3e-4f85-a758-5839a98417b9', '4d334bfb-9ddd-45a8-afbc-36b70623e300', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.646124+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('6346dad2-9061-442b-97de-32c5d0f2a7ca', 'abc672d0-4b1b-4cec-87c2-587cbb54387d', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.662186+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('39a73595-2324-43e4-8bb0-d81f83edac7f', '3d233622-36ac-44dd-820f-ad067c58577a', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.824329+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('436d3793-bf61-4a8a-85bf-e408dc5161cb', '0859a5b7-d206-4bae-9c5e-bcc24d8e9608', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.905158+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('2b5863b2-01f1-4357-b5ff-1ac5f4dc99c5', '75103e07-699b-49ac-9b73-85be858a7a9b', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:52.918578+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('e6c4204d-d2dd-4b77-becb-da5eaf9be662', '6266d0ad-0a9d-46d3-bb41-14727ec0e6cc', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:53.003529+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('4c5b1a03-8d9b-4927-a839-745700932c19', '1f975b97-b808-456e-8d0b-bcd02b1069a7', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:53.013364+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('1c642838-7e18-44c9-a54a-98960245f4d3', 'a33ab1d2-cbce-42ce-a810-59f324232199', 1, 'recorded', '{"seed": 1, "clock": "begin-frame", "steps": [], "views": [], "frames": [], "hungIn": null, "poster": 0, "sprite": null, "console": [], "metrics": {"motion": [], "wallMs": 1, "domNodes": 3, "pageHeight": null, "framesDrawn": null, "servedBytes": null, "firstPaintMs": null, "framesPerSecond": 60}, "outcome": "ok", "seconds": 6, "findings": [], "realTime": null, "requests": [], "viewport": {"width": 1280, "height": 800}, "isolation": {"memory": null, "sandbox": true, "networkNamespace": true, "unprivilegedUser": true}, "shownText": "", "stability": null, "outcomeDetail": null, "substitutions": [], "rendererVersion": "4"}', NULL, '2026-11-27 07:57:53.033835+00', '2026-11-27 07:57:53.040193+00');
INSERT INTO public.renders VALUES ('010089cb-ea8d-4dab-aef4-29154745e38a', '9842571e-f0fe-4c28-a664-7a4ffc4258fe', 1, 'queued', NULL, NULL, '2026-11-27 07:57:53.061138+00', NULL);


--
-- Data for Name: runs; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.runs VALUES ('2b0a369e-4547-40c4-b98e-6f3d049296e9', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 1, 2, '2026-11-27 07:57:51.026784+00', NULL, '{"unlike": [{"message": "the-model is reached through different hosts: Name of gorse at 127.0.0.1:34853, Name of sedge at 127.0.0.1:46495.", "setting": "host"}], "options": {"order": "round-robin", "mendRounds": 1, "continuations": 3, "refusalRetries": 1}, "acceptedWhy": "to compare"}', NULL, NULL);
INSERT INTO public.runs VALUES ('96d1e08b-9d1e-45a0-8d9a-f44b98271adc', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 2, 3, '2026-11-27 07:57:52.245208+00', NULL, '{"unlike": [], "options": {"order": "round-robin", "mendRounds": 0, "continuations": 3, "refusalRetries": 1}, "acceptedWhy": null}', NULL, NULL);
INSERT INTO public.runs VALUES ('5f3deffc-f211-4eb4-88c7-d924b6861a01', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 3, 4, '2026-11-27 07:57:52.367964+00', NULL, '{"unlike": [], "options": {"order": "round-robin", "mendRounds": 0, "continuations": 3, "refusalRetries": 1}, "acceptedWhy": null}', NULL, NULL);
INSERT INTO public.runs VALUES ('bd5765a2-bb1b-4462-8657-bd3d44e586b3', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 4, 1, '2026-11-27 07:57:52.454321+00', NULL, '{"unlike": [], "options": {"order": "round-robin", "mendRounds": 0, "continuations": 3, "refusalRetries": 1}, "acceptedWhy": null}', NULL, NULL);
INSERT INTO public.runs VALUES ('5cfeeee8-fd5c-4ec3-864c-1535dfdcde42', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 1, 1, '2026-11-27 07:57:52.695979+00', NULL, '{"unlike": [], "options": {"order": "round-robin", "mendRounds": 0, "continuations": 3, "refusalRetries": 1}, "acceptedWhy": null}', NULL, NULL);


--
-- Data for Name: sessions; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: sign_in_links; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: stream_parts; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Data for Name: suite_drafts; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.suite_drafts VALUES ('harbour', 'format: tourney-suite/1
key: harbour
title: Harbour at night
prompts:
  - { key: lamp, title: Lamp, kind: game, summary: Play., text: "Build a dim lamp.", motion: true, watchpoints: [It works] }
  - { key: chart, title: Chart, kind: app, summary: Read., text: "Build a chart.", motion: false, watchpoints: [It works], starterFiles: [{ path: data/tides.json, text: "[1, 2]" }] }
  - { key: flag, title: Flag, kind: drawing, summary: Look., text: "Draw a flag.", stages: [{ text: "Now animate it." }], motion: true, watchpoints: [It works, { text: It moves, evidence: motion }] }
  - { key: flag-plain, title: Flag again, kind: drawing, summary: Look., variantOf: { prompt: flag, change: no animation }, text: "Draw a flag.", motion: false, watchpoints: [It works] }
  - { key: flag-twin, title: Flag twin, kind: drawing, summary: Look., text: "Draw a flag.", motion: false, watchpoints: [It works] }
', 2, '2026-11-27 07:57:53.037851+00');


--
-- Data for Name: suites; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.suites VALUES ('4ecd7cc8-8b6c-4d4a-ae3c-f2f2e0db8c2f', 'harbour', 'Harbour lights', false, '2026-11-27 07:57:50.908194+00', NULL);


--
-- Data for Name: voter_prompt_tallies; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.voter_prompt_tallies VALUES ('ef8d4479-3d19-48f4-ad8e-33ce1acd718a', '6082d920-737e-430d-b6b8-7cb9e9031c48', 1);
INSERT INTO public.voter_prompt_tallies VALUES ('539701d4-7ac8-4d81-9606-4194d913c37f', '6082d920-737e-430d-b6b8-7cb9e9031c48', 1);
INSERT INTO public.voter_prompt_tallies VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '6082d920-737e-430d-b6b8-7cb9e9031c48', 2);
INSERT INTO public.voter_prompt_tallies VALUES ('539701d4-7ac8-4d81-9606-4194d913c37f', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', 1);
INSERT INTO public.voter_prompt_tallies VALUES ('ef8d4479-3d19-48f4-ad8e-33ce1acd718a', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', 1);
INSERT INTO public.voter_prompt_tallies VALUES ('2304a8da-d021-4bfe-b51b-e0e861f1c1cb', '6e9e08f2-1c03-4dc6-9776-c69eb11def44', 1);
INSERT INTO public.voter_prompt_tallies VALUES ('e9924738-6461-432f-98be-5e40b201a498', 'a2d75dac-0eca-4132-95a9-7d1283f7b5d5', 1);
INSERT INTO public.voter_prompt_tallies VALUES ('e9924738-6461-432f-98be-5e40b201a498', 'd2180571-14b3-4352-b59f-c781b417973d', 0);


--
-- Data for Name: voter_tallies; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.voter_tallies VALUES ('6082d920-737e-430d-b6b8-7cb9e9031c48', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'game', '8a6af2cd-2147-48df-b540-bf439bfcbac9', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', -2, 1);
INSERT INTO public.voter_tallies VALUES ('6082d920-737e-430d-b6b8-7cb9e9031c48', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'drawing', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', -1, 1);
INSERT INTO public.voter_tallies VALUES ('6082d920-737e-430d-b6b8-7cb9e9031c48', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'drawing', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 0, 1);
INSERT INTO public.voter_tallies VALUES ('6082d920-737e-430d-b6b8-7cb9e9031c48', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'game', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 2, 1);
INSERT INTO public.voter_tallies VALUES ('6e9e08f2-1c03-4dc6-9776-c69eb11def44', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'game', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '08af0a34-b6a4-4a23-9cf2-1e92b40dfc72', -2, 1);
INSERT INTO public.voter_tallies VALUES ('6e9e08f2-1c03-4dc6-9776-c69eb11def44', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'drawing', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', -1, 1);
INSERT INTO public.voter_tallies VALUES ('6e9e08f2-1c03-4dc6-9776-c69eb11def44', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'drawing', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 0, 1);
INSERT INTO public.voter_tallies VALUES ('6e9e08f2-1c03-4dc6-9776-c69eb11def44', '25e8d3cf-63cb-4e7d-8a16-716c6072a949', 'game', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', 2, 0);
INSERT INTO public.voter_tallies VALUES ('a2d75dac-0eca-4132-95a9-7d1283f7b5d5', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'drawing', '8a6af2cd-2147-48df-b540-bf439bfcbac9', 'c687bc6b-9a0f-4704-97c2-8b503939365e', -2, 1);
INSERT INTO public.voter_tallies VALUES ('d2180571-14b3-4352-b59f-c781b417973d', 'af8cef6b-2d24-491d-accf-f4cb37cf6945', 'drawing', 'c687bc6b-9a0f-4704-97c2-8b503939365e', '8a6af2cd-2147-48df-b540-bf439bfcbac9', -2, 0);


--
-- Data for Name: voters; Type: TABLE DATA; Schema: public; Owner: -
--

INSERT INTO public.voters VALUES ('6082d920-737e-430d-b6b8-7cb9e9031c48', '903275ec-0a34-4fdf-a238-07f0866df70a', '03d5b9ca73298bc32023c16f257e32eae7cd7aee87df0d50b5629eb7abe1d625', 'Ada', false, '2026-11-27 07:57:53.083253+00', NULL, false, NULL, NULL, NULL);
INSERT INTO public.voters VALUES ('6e9e08f2-1c03-4dc6-9776-c69eb11def44', '903275ec-0a34-4fdf-a238-07f0866df70a', '3761acd2fa01cd5e7aa62813f0e0c61477cab8a1c326953d4a466c791fb3aa72', 'Bo', false, '2026-11-27 07:57:53.218418+00', NULL, false, NULL, NULL, NULL);
INSERT INTO public.voters VALUES ('a2d75dac-0eca-4132-95a9-7d1283f7b5d5', '582f024d-2195-43d0-9e29-3abea6e3f587', '61582e6618251e191ed00debb331bcf358171b7778a8e844a40f81f87f42e508', 'Ada', false, '2026-11-27 07:57:53.317546+00', NULL, false, NULL, NULL, NULL);
INSERT INTO public.voters VALUES ('d2180571-14b3-4352-b59f-c781b417973d', '582f024d-2195-43d0-9e29-3abea6e3f587', '6771dfbe910e0a14441f3cd6e62cbd7b62f0e513775d9d712da826d176f93dc0', 'Bo', false, '2026-11-27 07:57:53.363746+00', NULL, false, NULL, NULL, NULL);


--
-- Data for Name: workers; Type: TABLE DATA; Schema: public; Owner: -
--



--
-- Name: audit_trail_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.audit_trail_id_seq', 4, true);


--
-- Name: attempts attempts_generation_id_number_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.attempts
    ADD CONSTRAINT attempts_generation_id_number_key UNIQUE (generation_id, number);


--
-- Name: attempts attempts_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.attempts
    ADD CONSTRAINT attempts_pkey PRIMARY KEY (id);


--
-- Name: audit_trail audit_trail_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.audit_trail
    ADD CONSTRAINT audit_trail_pkey PRIMARY KEY (id);


--
-- Name: ballots ballots_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ballots
    ADD CONSTRAINT ballots_pkey PRIMARY KEY (id);


--
-- Name: booth_exclusions booth_exclusions_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.booth_exclusions
    ADD CONSTRAINT booth_exclusions_pkey PRIMARY KEY (entry_id);


--
-- Name: bouts bouts_left_token_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_left_token_key UNIQUE (left_token);


--
-- Name: bouts bouts_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_pkey PRIMARY KEY (id);


--
-- Name: bouts bouts_right_token_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_right_token_key UNIQUE (right_token);


--
-- Name: bouts bouts_token_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_token_key UNIQUE (token);


--
-- Name: bouts bouts_voter_id_ordinal_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_voter_id_ordinal_key UNIQUE (voter_id, ordinal);


--
-- Name: editions editions_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.editions
    ADD CONSTRAINT editions_pkey PRIMARY KEY (id);


--
-- Name: editions editions_suite_id_digest_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.editions
    ADD CONSTRAINT editions_suite_id_digest_key UNIQUE (suite_id, digest);


--
-- Name: editions editions_suite_id_number_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.editions
    ADD CONSTRAINT editions_suite_id_number_key UNIQUE (suite_id, number);


--
-- Name: endpoints endpoints_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.endpoints
    ADD CONSTRAINT endpoints_pkey PRIMARY KEY (id);


--
-- Name: entrant_versions entrant_versions_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrant_versions
    ADD CONSTRAINT entrant_versions_pkey PRIMARY KEY (entrant_id, number);


--
-- Name: entrants entrants_key_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrants
    ADD CONSTRAINT entrants_key_key UNIQUE (key);


--
-- Name: entrants entrants_name_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrants
    ADD CONSTRAINT entrants_name_key UNIQUE (name);


--
-- Name: entrants entrants_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrants
    ADD CONSTRAINT entrants_pkey PRIMARY KEY (id);


--
-- Name: entries entries_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entries
    ADD CONSTRAINT entries_pkey PRIMARY KEY (id);


--
-- Name: generations generations_one_a_place; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.generations
    ADD CONSTRAINT generations_one_a_place UNIQUE (prompt_id, entrant_id, take, stage, mend_round);


--
-- Name: generations generations_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.generations
    ADD CONSTRAINT generations_pkey PRIMARY KEY (id);


--
-- Name: migrations migrations_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.migrations
    ADD CONSTRAINT migrations_pkey PRIMARY KEY (name);


--
-- Name: panels panels_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.panels
    ADD CONSTRAINT panels_pkey PRIMARY KEY (id);


--
-- Name: panels panels_token_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.panels
    ADD CONSTRAINT panels_token_key UNIQUE (token);


--
-- Name: prompt_tallies prompt_tallies_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.prompt_tallies
    ADD CONSTRAINT prompt_tallies_pkey PRIMARY KEY (prompt_id, left_entrant_id, right_entrant_id, lean);


--
-- Name: prompts prompts_edition_id_key_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.prompts
    ADD CONSTRAINT prompts_edition_id_key_key UNIQUE (edition_id, key);


--
-- Name: prompts prompts_edition_id_position_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.prompts
    ADD CONSTRAINT prompts_edition_id_position_key UNIQUE (edition_id, "position");


--
-- Name: prompts prompts_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.prompts
    ADD CONSTRAINT prompts_pkey PRIMARY KEY (id);


--
-- Name: renders renders_entry_id_number_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.renders
    ADD CONSTRAINT renders_entry_id_number_key UNIQUE (entry_id, number);


--
-- Name: renders renders_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.renders
    ADD CONSTRAINT renders_pkey PRIMARY KEY (id);


--
-- Name: runs runs_edition_id_number_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.runs
    ADD CONSTRAINT runs_edition_id_number_key UNIQUE (edition_id, number);


--
-- Name: runs runs_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.runs
    ADD CONSTRAINT runs_pkey PRIMARY KEY (id);


--
-- Name: sessions sessions_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.sessions
    ADD CONSTRAINT sessions_pkey PRIMARY KEY (sid);


--
-- Name: sign_in_links sign_in_links_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.sign_in_links
    ADD CONSTRAINT sign_in_links_pkey PRIMARY KEY (token_hash);


--
-- Name: stream_parts stream_parts_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.stream_parts
    ADD CONSTRAINT stream_parts_pkey PRIMARY KEY (attempt_id, number);


--
-- Name: suite_drafts suite_drafts_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.suite_drafts
    ADD CONSTRAINT suite_drafts_pkey PRIMARY KEY (suite_key);


--
-- Name: suites suites_key_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.suites
    ADD CONSTRAINT suites_key_key UNIQUE (key);


--
-- Name: suites suites_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.suites
    ADD CONSTRAINT suites_pkey PRIMARY KEY (id);


--
-- Name: voter_prompt_tallies voter_prompt_tallies_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.voter_prompt_tallies
    ADD CONSTRAINT voter_prompt_tallies_pkey PRIMARY KEY (prompt_id, voter_id);


--
-- Name: voter_tallies voter_tallies_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.voter_tallies
    ADD CONSTRAINT voter_tallies_pkey PRIMARY KEY (edition_id, kind, voter_id, left_entrant_id, right_entrant_id, lean);


--
-- Name: voters voters_personal_token_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.voters
    ADD CONSTRAINT voters_personal_token_key UNIQUE (personal_token);


--
-- Name: voters voters_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.voters
    ADD CONSTRAINT voters_pkey PRIMARY KEY (id);


--
-- Name: voters voters_token_hash_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.voters
    ADD CONSTRAINT voters_token_hash_key UNIQUE (token_hash);


--
-- Name: workers workers_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.workers
    ADD CONSTRAINT workers_pkey PRIMARY KEY (id);


--
-- Name: attempts_by_time; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX attempts_by_time ON public.attempts USING btree (sent_at);


--
-- Name: ballots_in_time; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX ballots_in_time ON public.ballots USING btree (cast_at);


--
-- Name: ballots_one_a_bout; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX ballots_one_a_bout ON public.ballots USING btree (bout_id) WHERE (voided_at IS NULL);


--
-- Name: bouts_never_repeat; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX bouts_never_repeat ON public.bouts USING btree (voter_id, LEAST(left_entry_id, right_entry_id), GREATEST(left_entry_id, right_entry_id), is_repeat);


--
-- Name: endpoints_are_distinct; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX endpoints_are_distinct ON public.endpoints USING btree (protocol, COALESCE(base_url, ''::text), COALESCE(key_variable, ''::text));


--
-- Name: entries_one_a_generation; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX entries_one_a_generation ON public.entries USING btree (generation_id) WHERE (edited_from IS NULL);


--
-- Name: generations_by_place; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX generations_by_place ON public.generations USING btree (entrant_id, state);


--
-- Name: generations_by_run; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX generations_by_run ON public.generations USING btree (run_id, state);


--
-- Name: generations_in_flight; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX generations_in_flight ON public.generations USING btree (endpoint_id) WHERE (state = ANY (ARRAY['admitted'::text, 'running'::text]));


--
-- Name: generations_to_admit; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX generations_to_admit ON public.generations USING btree (endpoint_id, "position") WHERE (state = 'queued'::text);


--
-- Name: rating_snapshots_in_time; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX rating_snapshots_in_time ON public.rating_snapshots USING btree (edition_id, counted_at);


--
-- Name: rating_snapshots_once; Type: INDEX; Schema: public; Owner: -
--

CREATE UNIQUE INDEX rating_snapshots_once ON public.rating_snapshots USING btree (edition_id, COALESCE(kind, ''::text), method_version, input_digest);


--
-- Name: sessions_by_expiry; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX sessions_by_expiry ON public.sessions USING btree (expire);


--
-- Name: voter_prompt_tallies_several; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX voter_prompt_tallies_several ON public.voter_prompt_tallies USING btree (prompt_id) WHERE (n > 1);


--
-- Name: voters_by_panel; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX voters_by_panel ON public.voters USING btree (panel_id);


--
-- Name: audit_trail audit_trail_never_changes; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER audit_trail_never_changes BEFORE DELETE OR UPDATE ON public.audit_trail FOR EACH ROW EXECUTE FUNCTION public.refuse_change();


--
-- Name: ballots ballots_are_counted; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER ballots_are_counted AFTER INSERT ON public.ballots REFERENCING NEW TABLE AS cast_now FOR EACH STATEMENT EXECUTE FUNCTION public.count_cast_ballots();


--
-- Name: ballots ballots_stay_counted; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER ballots_stay_counted AFTER DELETE OR UPDATE ON public.ballots FOR EACH ROW EXECUTE FUNCTION public.keep_tallies();


--
-- Name: editions editions_are_frozen; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER editions_are_frozen BEFORE DELETE OR UPDATE ON public.editions FOR EACH ROW EXECUTE FUNCTION public.refuse_change();


--
-- Name: prompts prompts_are_frozen; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER prompts_are_frozen BEFORE DELETE OR UPDATE ON public.prompts FOR EACH ROW EXECUTE FUNCTION public.refuse_change();


--
-- Name: entrant_versions versions_are_frozen; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER versions_are_frozen BEFORE UPDATE ON public.entrant_versions FOR EACH ROW EXECUTE FUNCTION public.refuse_change();


--
-- Name: voters voters_are_counted; Type: TRIGGER; Schema: public; Owner: -
--

CREATE TRIGGER voters_are_counted AFTER UPDATE OF left_out_at ON public.voters FOR EACH ROW EXECUTE FUNCTION public.count_voter();


--
-- Name: attempts attempts_generation_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.attempts
    ADD CONSTRAINT attempts_generation_id_fkey FOREIGN KEY (generation_id) REFERENCES public.generations(id);


--
-- Name: audit_trail audit_trail_panel_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.audit_trail
    ADD CONSTRAINT audit_trail_panel_id_fkey FOREIGN KEY (panel_id) REFERENCES public.panels(id);


--
-- Name: audit_trail audit_trail_voter_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.audit_trail
    ADD CONSTRAINT audit_trail_voter_id_fkey FOREIGN KEY (voter_id) REFERENCES public.voters(id);


--
-- Name: ballots ballots_bout_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ballots
    ADD CONSTRAINT ballots_bout_id_fkey FOREIGN KEY (bout_id) REFERENCES public.bouts(id);


--
-- Name: booth_exclusions booth_exclusions_entry_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.booth_exclusions
    ADD CONSTRAINT booth_exclusions_entry_id_fkey FOREIGN KEY (entry_id) REFERENCES public.entries(id);


--
-- Name: bouts bouts_left_entry_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_left_entry_id_fkey FOREIGN KEY (left_entry_id) REFERENCES public.entries(id);


--
-- Name: bouts bouts_prompt_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_prompt_id_fkey FOREIGN KEY (prompt_id) REFERENCES public.prompts(id);


--
-- Name: bouts bouts_right_entry_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_right_entry_id_fkey FOREIGN KEY (right_entry_id) REFERENCES public.entries(id);


--
-- Name: bouts bouts_voter_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.bouts
    ADD CONSTRAINT bouts_voter_id_fkey FOREIGN KEY (voter_id) REFERENCES public.voters(id);


--
-- Name: editions editions_suite_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.editions
    ADD CONSTRAINT editions_suite_id_fkey FOREIGN KEY (suite_id) REFERENCES public.suites(id);


--
-- Name: entrant_versions entrant_versions_entrant_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrant_versions
    ADD CONSTRAINT entrant_versions_entrant_id_fkey FOREIGN KEY (entrant_id) REFERENCES public.entrants(id);


--
-- Name: entrants entrants_endpoint_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrants
    ADD CONSTRAINT entrants_endpoint_id_fkey FOREIGN KEY (endpoint_id) REFERENCES public.endpoints(id);


--
-- Name: entrants entrants_predecessor_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entrants
    ADD CONSTRAINT entrants_predecessor_id_fkey FOREIGN KEY (predecessor_id) REFERENCES public.entrants(id);


--
-- Name: entries entries_edited_from_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entries
    ADD CONSTRAINT entries_edited_from_fkey FOREIGN KEY (edited_from) REFERENCES public.entries(id);


--
-- Name: entries entries_generation_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.entries
    ADD CONSTRAINT entries_generation_id_fkey FOREIGN KEY (generation_id) REFERENCES public.generations(id);


--
-- Name: generations generations_endpoint_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.generations
    ADD CONSTRAINT generations_endpoint_id_fkey FOREIGN KEY (endpoint_id) REFERENCES public.endpoints(id);


--
-- Name: generations generations_entrant_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.generations
    ADD CONSTRAINT generations_entrant_id_fkey FOREIGN KEY (entrant_id) REFERENCES public.entrants(id);


--
-- Name: generations generations_prompt_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.generations
    ADD CONSTRAINT generations_prompt_id_fkey FOREIGN KEY (prompt_id) REFERENCES public.prompts(id);


--
-- Name: generations generations_run_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.generations
    ADD CONSTRAINT generations_run_id_fkey FOREIGN KEY (run_id) REFERENCES public.runs(id);


--
-- Name: panels panels_edition_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.panels
    ADD CONSTRAINT panels_edition_id_fkey FOREIGN KEY (edition_id) REFERENCES public.editions(id);


--
-- Name: prompts prompts_edition_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.prompts
    ADD CONSTRAINT prompts_edition_id_fkey FOREIGN KEY (edition_id) REFERENCES public.editions(id);


--
-- Name: rating_snapshots rating_snapshots_edition_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.rating_snapshots
    ADD CONSTRAINT rating_snapshots_edition_id_fkey FOREIGN KEY (edition_id) REFERENCES public.editions(id);


--
-- Name: renders renders_entry_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.renders
    ADD CONSTRAINT renders_entry_id_fkey FOREIGN KEY (entry_id) REFERENCES public.entries(id);


--
-- Name: runs runs_edition_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.runs
    ADD CONSTRAINT runs_edition_id_fkey FOREIGN KEY (edition_id) REFERENCES public.editions(id);


--
-- Name: stream_parts stream_parts_attempt_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.stream_parts
    ADD CONSTRAINT stream_parts_attempt_id_fkey FOREIGN KEY (attempt_id) REFERENCES public.attempts(id);


--
-- Name: voters voters_panel_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.voters
    ADD CONSTRAINT voters_panel_id_fkey FOREIGN KEY (panel_id) REFERENCES public.panels(id);


--
-- PostgreSQL database dump complete
--


