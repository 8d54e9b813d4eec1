/** How many jobs of tasks $1 may be taken at this moment; no more than $2 are counted. */
export const DUE_JOBS = `
  SELECT count(*)::int AS due FROM (
    SELECT FROM graphile_worker._private_jobs j JOIN graphile_worker._private_tasks t ON t.id = j.task_id
    WHERE j.is_available AND j.run_at <= now() AND t.identifier = ANY($1) LIMIT $2) counted`;
