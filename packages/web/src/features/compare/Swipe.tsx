import type { Compared } from "@tourney/core/compare";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Toggle } from "../../ui/controls.js";
import { nameOfCompared } from "./figure-table.js";
import { Caption, FrameAt } from "./Stages.js";

const WAYS = { swipe: "Swipe", onion: "Onion skin", difference: "What differs" } as const;
type Way = keyof typeof WAYS;

/** Two entries, the same moment, one over the other. */
export function Swipe({ compared, atMs }: { compared: readonly Compared[]; atMs: number }) {
  const [search, setSearch] = useSearchParams();
  const [share, setShare] = useState(0.5);
  const [pair, setPair] = useState<readonly [number, number]>([0, 1]);
  const way: Way =
    search.get("way") === "onion" || search.get("way") === "difference" ? (search.get("way") as Way) : "swipe";
  const under = compared[pair[0]] ?? compared[0]!;
  const over = compared[pair[1]] ?? compared[1]!;
  const names = [nameOfCompared(under.entry), nameOfCompared(over.entry)] as const;
  return (
    <div className="mx-auto w-full max-w-[860px]">
      <div className="mb-2 flex flex-wrap items-center gap-1.5">
        {(Object.keys(WAYS) as Way[]).map((key) => (
          <Toggle
            key={key}
            pressed={way === key}
            onClick={() =>
              setSearch(
                (now) => {
                  const next = new URLSearchParams(now);
                  next.set("way", key);
                  return next;
                },
                { replace: true },
              )
            }
          >
            {WAYS[key]}
          </Toggle>
        ))}
        {compared.length > 2 ? <PairChoice {...{ compared, pair, setPair }} /> : null}
        {way === "difference" ? (
          <span className="ml-auto text-[13px] text-soft">Black is alike; what is bright differs.</span>
        ) : (
          <label className="ml-auto flex items-center gap-2 text-[13px] text-soft">
            {way === "swipe" ? "Edge" : `How much of ${names[1]}`}
            <input
              type="range"
              min={0}
              max={100}
              value={Math.round(share * 100)}
              onChange={(event) => setShare(Number(event.target.value) / 100)}
              className="w-40 accent-(--ink)"
            />
          </label>
        )}
      </div>
      <div
        className="relative border border-rule select-none"
        onPointerMove={(event) => {
          if (way === "difference" || (way === "onion" && event.buttons !== 1)) return;
          const box = event.currentTarget.getBoundingClientRect();
          setShare(Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)));
        }}
      >
        <FrameAt entry={under.entry} atMs={atMs} className="" />
        <div
          className="absolute inset-0"
          style={
            way === "swipe"
              ? { clipPath: `inset(0 0 0 ${share * 100}%)` }
              : way === "onion"
                ? { opacity: share }
                : { mixBlendMode: "difference" }
          }
        >
          <FrameAt entry={over.entry} atMs={atMs} className="" />
        </div>
        {way === "swipe" ? (
          <span className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-act" style={{ left: `${share * 100}%` }} />
        ) : null}
      </div>
      <div className="grid grid-cols-2 gap-4">
        <Caption compared={under} note={way === "swipe" ? "left of the edge" : "below"} />
        <Caption compared={over} note={way === "swipe" ? "right of the edge" : "above"} />
      </div>
    </div>
  );
}

function PairChoice({
  compared,
  pair,
  setPair,
}: {
  compared: readonly Compared[];
  pair: readonly [number, number];
  setPair: (pair: readonly [number, number]) => void;
}) {
  const select = (side: 0 | 1, label: string) => (
    <select
      aria-label={label}
      value={pair[side]}
      onChange={(event) => {
        const chosen = Number(event.target.value);
        setPair(side === 0 ? [chosen, pair[1]] : [pair[0], chosen]);
      }}
      className="h-6 rounded border border-rule bg-sheet px-2 text-[13px] text-ink"
    >
      {compared.map(({ entry }, index) => (
        <option key={entry.id} value={index} disabled={index === pair[side === 0 ? 1 : 0]}>
          {nameOfCompared(entry)}
        </option>
      ))}
    </select>
  );
  return (
    <span className="ml-3 flex items-center gap-1.5 text-[13px] text-soft">
      {select(0, "Below")} and {select(1, "Above")}
    </span>
  );
}
