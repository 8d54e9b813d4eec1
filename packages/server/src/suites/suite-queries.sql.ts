import { EditionSummary } from "@tourney/core/contract";
import * as z from "zod";
import { isoDate } from "../db/row.js";

export const SummaryRow = z.object({ ...EditionSummary.shape, frozenAt: isoDate });

/**
 * Editions with how many prompts they have and how many answers there are to their wordings, whichever edition asked for them. They are counted prompt by prompt: joining 15,000 took PostgreSQL
 * two to four times as long.
 */
export const SELECT_SUMMARIES = `
  SELECT e.id, s.key AS "suiteKey", s.title AS "suiteTitle", e.number, e.digest, s.sample, e.frozen_at AS "frozenAt",
    s.archived_at IS NOT NULL AS archived,
    (SELECT count(*)::int FROM prompts p WHERE p.edition_id = e.id) AS "promptCount",
    (SELECT coalesce(sum((SELECT count(*) FROM generations g WHERE g.wording_id = p.wording_id)), 0)::int FROM prompts p WHERE p.edition_id = e.id) AS generations
  FROM editions e JOIN suites s ON s.id = e.suite_id`;
