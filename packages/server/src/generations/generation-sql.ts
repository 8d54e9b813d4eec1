/** Conditions on `generations g` that several queries share. */

/** A reported name may add a date or a build to the one that was asked for; anything else is another model. Null when none was reported. */
export const IS_MISMATCH = `coalesce(g.reported_model <> g.requested_model AND NOT starts_with(g.reported_model, g.requested_model || '-')
  AND right(g.requested_model, length(g.reported_model) + 1) <> '/' || g.reported_model, false)`;

/** States that a plan may take over: nothing of theirs was kept. */
export const REPLANNED = "('cancelled', 'held')";
