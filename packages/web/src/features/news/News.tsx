import { skipToken } from "@reduxjs/toolkit/query";
import { useEffect, useRef } from "react";
import { toast } from "sonner";
import { useEditionNavigate } from "../../api/edition-links.js";
import { useWatchPanelsQuery, useWatchRunsQuery } from "../../api/ongoing-api.js";
import { useWatchStoppingQuery } from "../../api/stopping-api.js";
import { useEdition } from "../../api/use-edition.js";
import { type News as NewsItem, NewsWatch } from "./news-watch.js";

const LOOK_EVERY_MS = 10_000;
const SHOWN_MS = 12_000;

/** Tells, on whatever screen the lead is, when a run, its recordings or a panel ends or stands still. */
export function News() {
  const { edition } = useEdition();
  const wanted = edition?.id ?? skipToken;
  // A page that nobody looks at has no line to be told over, and that is when news are needed.
  const polling = { pollingInterval: LOOK_EVERY_MS };
  const { currentData: runs } = useWatchRunsQuery(wanted, polling);
  const { currentData: panels } = useWatchPanelsQuery(wanted, polling);
  const { currentData: stopping } = useWatchStoppingQuery(wanted, polling);
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
