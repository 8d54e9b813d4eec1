import { skipToken } from "@reduxjs/toolkit/query";
import { useEffect, useRef } from "react";
import { toast } from "sonner";
import { useEditionNavigate } from "../../api/edition-links.js";
import { useWatchPanelsQuery, useWatchRunsQuery } from "../../api/ongoing-api.js";
import { useWatchStoppingQuery } from "../../api/stopping-api.js";
import { useEdition } from "../../api/use-edition.js";
import { useFollow } from "../../api/use-follow.js";
import { type News as NewsItem, NewsWatch } from "./news-watch.js";

const LOOK_EVERY_MS = 10_000;
const SHOWN_MS = 12_000;

/** Tells, on whatever screen the lead is, when a run, its recordings or a panel ends or stands still. */
export function News() {
  const { edition } = useEdition();
  // Also while the window is not looked at: that is when it is needed.
  const wanted = edition?.id ?? skipToken;
  const { currentData: runs, refetch: refetchRuns } = useWatchRunsQuery(wanted);
  const { currentData: panels, refetch: refetchPanels } = useWatchPanelsQuery(wanted);
  const { currentData: stopping, refetch: refetchStopping } = useWatchStoppingQuery(wanted);
  const again = (...all: (() => unknown)[]) => edition && all.map((refetch) => refetch());
  useFollow(() => again(refetchRuns), { about: ["cells"], everyMs: LOOK_EVERY_MS, alsoUnseen: true });
  useFollow(() => again(refetchPanels, refetchStopping), {
    about: ["ballots"],
    everyMs: LOOK_EVERY_MS,
    alsoUnseen: true,
  });
  const navigate = useEditionNavigate();
  const watches = useRef(new Map<string, NewsWatch>());
  const editionId = edition?.id;
  useEffect(() => {
    if (editionId === undefined) return;
    const look = () => {
      if (runs === undefined || panels === undefined) return;
      const watch = watches.current.get(editionId) ?? new NewsWatch();
      watches.current.set(editionId, watch);
      for (const item of watch.look({ runs, panels, stopping }, Date.now())) tell(item, () => navigate(item.to));
    };
    look();
    // What stands still brings no new data: time alone makes it news.
    const timer = setInterval(look, LOOK_EVERY_MS);
    return () => clearInterval(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- going elsewhere is no reason to look again
  }, [editionId, runs, panels, stopping]);
  return null;
}

function tell({ title, detail, isTrouble }: NewsItem, open: () => void): void {
  const show = isTrouble ? toast.warning : toast;
  show(title, { description: detail, duration: SHOWN_MS, action: { label: "Open", onClick: open } });
  if (!document.hidden || typeof Notification === "undefined" || Notification.permission !== "granted") return;
  const notification = new Notification(title, { body: detail, tag: title });
  notification.onclick = () => {
    window.focus();
    open();
  };
}
