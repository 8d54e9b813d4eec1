import type { DemoProgress, Health } from "@tourney/core/contract";
import { describeDemoProgress } from "@tourney/core/demo";
import { useEffect, useRef } from "react";
import { useDispatch } from "react-redux";
import { TAGS, toApiError, tourneyApi } from "../../api/tourney-api.js";
import { useIsCut } from "../../api/use-follow.js";
import { useGetHealthQuery } from "./course-api.js";

const LOOK_EVERY_MS = 10_000;
/** While something is away, its coming back is to show soon. */
const LOOK_AGAIN_MS = 2000;
/** What the demo's line says moves on while it is read. */
const LOOK_AT_DEMO_MS = 3000;
const AWAY = ["OFFLINE", "DATABASE_UNAVAILABLE"];

const CUT =
  "The line over which Tourney tells of changes is cut, so what is shown may be old. It is opened again by itself, and then all is asked for anew.";

/** What is missing for the work to go on, in one line; nothing when nothing is. */
function describeHealth(health: Health | undefined, error: unknown): string | null {
  const code = error === undefined ? null : toApiError(error).code;
  if (code === "OFFLINE")
    return "Tourney does not answer; it is asked again every two seconds. Nothing that you entered is lost. (`./tourney status` says whether it runs.)";
  if (code === "DATABASE_UNAVAILABLE")
    return "The database is away and is being started again. Nothing that was stored is lost; this page goes on by itself when it is back.";
  if (health?.room.isLow === true)
    return `Only ${Math.floor(health.room.freeBytes / 1e6)} MB are left on the disk. Nothing new is asked or recorded until there is more; free some, and it goes on by itself.`;
  if (health?.recorders === 0)
    return "No recorder lives, so no page is recorded. It is started again by itself; the log render-worker.log says why it ended.";
  return null;
}

/** How far the demo's sample data are, while they are being made. */
function DemoLine({ progress }: { progress: DemoProgress }) {
  const done = progress.recorded / Math.max(1, progress.toRecord) / 2 + progress.ballots / progress.ballotsPlanned / 2;
  return (
    <div role="status" className="relative border-b border-rule bg-sheet px-4 py-2 text-[13px] leading-5 text-soft">
      <span className="font-medium text-ink">Sample data are being made</span>
      <span className="mx-2" aria-hidden>
        ·
      </span>
      {describeDemoProgress(progress)}
      <span
        className="absolute bottom-0 left-0 h-0.5 bg-care transition-[width]"
        style={{ width: `${Math.round(done * 100)}%` }}
        aria-hidden
      />
    </div>
  );
}

/** A line below the steps while something that the work needs is not there. What was shown is asked for anew when it is back. */
export function HealthBar() {
  const dispatch = useDispatch();
  // While it is asked again, the last error stands.
  const { data, error } = useGetHealthQuery(undefined, { pollingInterval: LOOK_EVERY_MS });
  const isAway = error !== undefined && AWAY.includes(toApiError(error).code);
  const isCut = useIsCut();
  useGetHealthQuery(undefined, { pollingInterval: LOOK_AGAIN_MS, skip: !isAway && !isCut });
  const demo = isAway ? null : (data?.demo ?? null);
  useGetHealthQuery(undefined, { pollingInterval: LOOK_AT_DEMO_MS, skip: demo === null });
  const wasAway = useRef(false);
  useEffect(() => {
    if (wasAway.current && !isAway) dispatch(tourneyApi.util.invalidateTags([...TAGS]));
    wasAway.current = isAway;
  }, [isAway, dispatch]);
  const text = describeHealth(data, error) ?? (isCut ? CUT : null);
  if (text === null) return demo && <DemoLine progress={demo} />;
  return (
    <p
      role="alert"
      className="m-0 border-b border-l-3 border-rule border-l-broken bg-sheet px-4 py-2 text-[13px] leading-5"
    >
      {text}
    </p>
  );
}
