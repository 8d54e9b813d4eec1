import { toCanonicalJson } from "@tourney/core/suite";
import { QueryTypes, type Sequelize, type Transaction } from "sequelize";
import * as z from "zod";
import type { Migration } from "../migration.js";

/**
 * A version of an entrant is a set-up: endpoint, model and settings. Each gets an id that answers and ballots can name. Former versions
 * that differ in nothing but prices are one version now; what was merged stays readable in the audit trail.
 */
const BEFORE = `
ALTER TABLE entrant_versions RENAME TO former_versions;
CREATE TABLE entrant_versions (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  entrant_id uuid NOT NULL REFERENCES entrants(id),
  number integer NOT NULL CHECK (number > 0),
  endpoint_id uuid NOT NULL REFERENCES endpoints(id),
  model text NOT NULL,
  settings jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (entrant_id, number)
);
ALTER TABLE entrants ADD COLUMN version_id uuid REFERENCES entrant_versions(id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE generations ADD COLUMN version_id uuid REFERENCES entrant_versions(id);
CREATE TEMPORARY TABLE version_of (entrant_id uuid, former integer, version_id uuid, PRIMARY KEY (entrant_id, former)) ON COMMIT DROP;
`;

const AFTER = `
UPDATE entrants n SET version_id = m.version_id FROM version_of m WHERE m.entrant_id = n.id AND m.former = n.version;
UPDATE generations g SET version_id = m.version_id FROM version_of m WHERE m.entrant_id = g.entrant_id AND m.former = g.entrant_version;
SET CONSTRAINTS ALL IMMEDIATE;
ALTER TABLE entrants ALTER COLUMN version_id SET NOT NULL, DROP COLUMN version;
ALTER TABLE generations ALTER COLUMN version_id SET NOT NULL, DROP COLUMN entrant_version;
DROP TABLE former_versions;
CREATE INDEX generations_by_version ON generations (version_id);
`;

const DOWN = `
ALTER TABLE entrants ADD COLUMN version integer NOT NULL DEFAULT 1 CHECK (version > 0);
ALTER TABLE generations ADD COLUMN entrant_version integer NOT NULL DEFAULT 1;
UPDATE entrants n SET version = v.number FROM entrant_versions v WHERE v.id = n.version_id;
UPDATE generations g SET entrant_version = v.number FROM entrant_versions v WHERE v.id = g.version_id;
ALTER TABLE generations DROP COLUMN version_id;
ALTER TABLE entrants DROP COLUMN version_id;
CREATE TABLE former_versions (
  entrant_id uuid NOT NULL REFERENCES entrants(id),
  number integer NOT NULL CHECK (number > 0),
  content jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (entrant_id, number)
);
INSERT INTO former_versions (entrant_id, number, content, created_at)
  SELECT v.entrant_id, v.number, jsonb_build_object('endpoint', jsonb_strip_nulls(jsonb_build_object('protocol', p.protocol,
    'baseUrl', p.base_url, 'keyVariable', p.key_variable)) || CASE WHEN p.base_url IS NULL THEN '{}' ELSE jsonb_build_object('concurrency', p.concurrency) END,
    'model', v.model, 'settings', v.settings, 'prices', n.prices), v.created_at
  FROM entrant_versions v JOIN endpoints p ON p.id = v.endpoint_id JOIN entrants n ON n.id = v.entrant_id;
DROP TABLE entrant_versions;
ALTER TABLE former_versions RENAME TO entrant_versions;
CREATE TRIGGER versions_are_frozen BEFORE UPDATE ON entrant_versions FOR EACH ROW EXECUTE FUNCTION refuse_change();
`;

const Content = z.looseObject({
  endpoint: z.looseObject({
    protocol: z.string(),
    baseUrl: z.string().optional(),
    keyVariable: z.string().optional(),
  }),
  model: z.string(),
  settings: z.record(z.string(), z.unknown()),
});
const Former = z.object({
  entrantId: z.string(),
  number: z.int(),
  isPresent: z.boolean(),
  endpointId: z.string(),
  content: Content,
  createdAt: z.date(),
});
type Former = z.infer<typeof Former>;

/** Every former version, and one made of the entrant's present settings for each number that answers name and no row has. */
const FORMER = `
  SELECT n.id AS "entrantId", x.number, x.number = n.version AS "isPresent", n.endpoint_id AS "endpointId",
    coalesce(f.created_at, n.created_at) AS "createdAt",
    coalesce(f.content, jsonb_build_object('endpoint', jsonb_strip_nulls(jsonb_build_object('protocol', p.protocol, 'baseUrl', p.base_url,
      'keyVariable', p.key_variable)), 'model', n.model, 'settings', n.settings)) AS content
  FROM entrants n JOIN endpoints p ON p.id = n.endpoint_id
    JOIN LATERAL (SELECT n.version AS number UNION SELECT number FROM former_versions WHERE entrant_id = n.id
      UNION SELECT entrant_version FROM generations WHERE entrant_id = n.id) x ON true
    LEFT JOIN former_versions f ON f.entrant_id = n.id AND f.number = x.number
  ORDER BY n.id, x.number`;

/** What answers depend on, as one text. How long an endpoint is waited for changes no answer. */
const setUpOf = ({ content: { endpoint, model, settings } }: Former): string => {
  const sent = Object.fromEntries(Object.entries(settings).filter(([name]) => name !== "timeLimits"));
  return toCanonicalJson({ protocol: endpoint.protocol, baseUrl: endpoint.baseUrl ?? null, model, settings: sent });
};

async function mergeVersions(sequelize: Sequelize, transaction: Transaction): Promise<void> {
  const rows = await sequelize.query(FORMER, { type: QueryTypes.SELECT, transaction });
  const run = (sql: string, bind: unknown[]) => sequelize.query(sql, { bind, transaction });
  const groups = new Map<string, Former[]>();
  for (const row of rows.map((item) => Former.parse(item))) {
    const key = `${row.entrantId} ${setUpOf(row)}`;
    groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  const numbers = new Map<string, number>();
  for (const group of groups.values()) {
    const [first] = group as [Former, ...Former[]];
    const { entrantId, createdAt, content } = first;
    const number = (numbers.get(entrantId) ?? 0) + 1;
    numbers.set(entrantId, number);
    const endpointId = group.find(({ isPresent }) => isPresent)?.endpointId ?? (await findEndpoint(first, run));
    const [added] = await run(
      `INSERT INTO entrant_versions (entrant_id, number, endpoint_id, model, settings, created_at)
       VALUES ($1, $2, $3, $4, $5::jsonb, $6) RETURNING id`,
      [entrantId, number, endpointId, content.model, JSON.stringify(content.settings), createdAt.toISOString()],
    );
    const versionId = z.array(z.object({ id: z.string() })).parse(added)[0]!.id;
    for (const { number: former } of group)
      await run("INSERT INTO version_of (entrant_id, former, version_id) VALUES ($1, $2, $3)", [
        entrantId,
        former,
        versionId,
      ]);
    if (group.length > 1) {
      const merged = group.map((row) => ({ number: row.number, createdAt: row.createdAt, content: row.content }));
      await run("INSERT INTO audit_trail (actor, action, detail) VALUES ('tourney', $1, $2::jsonb)", [
        "merged versions that differ in no setting",
        JSON.stringify({ entrantId, version: number, merged }),
      ]);
    }
  }
}

async function findEndpoint(
  { content: { endpoint } }: Former,
  run: (sql: string, bind: unknown[]) => Promise<[unknown, unknown]>,
): Promise<string> {
  const [rows] = await run(
    `INSERT INTO endpoints (protocol, base_url, key_variable) VALUES ($1, $2, $3)
     ON CONFLICT (protocol, coalesce(base_url, ''), coalesce(key_variable, '')) DO UPDATE SET protocol = excluded.protocol RETURNING id`,
    [endpoint.protocol, endpoint.baseUrl ?? null, endpoint.keyVariable ?? null],
  );
  return z.array(z.object({ id: z.string() })).parse(rows)[0]!.id;
}

export const identifyVersions: Migration = {
  name: "202611270800-identify-versions",
  up: async ({ context, transaction }) => {
    await context.query(BEFORE, { transaction });
    await mergeVersions(context, transaction);
    await context.query(AFTER, { transaction });
  },
  down: async ({ context, transaction }) => {
    await context.query(DOWN, { transaction });
  },
};
