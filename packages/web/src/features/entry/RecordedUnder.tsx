import { type Recording, RENDERER_VERSION } from "@tourney/core/contract";

/** The conditions of a recording, what it was given instead of what it asked for, and what else was measured. */
export function RecordedUnder({ recording, renderId }: { recording: Recording; renderId: string }) {
  const { isolation, viewport, seed, rendererVersion, clock, outcome, outcomeDetail, metrics } = recording;
  const contained = [
    isolation.sandbox ? "sandbox on" : "no sandbox",
    isolation.unprivilegedUser ? "unprivileged user" : "same user",
    isolation.networkNamespace ? "empty network namespace" : "network shut by flags",
    ...(isolation.memory === null
      ? []
      : [isolation.memory === "cgroup" ? "memory held by the kernel" : "memory watched"]),
  ];
  const isStale = rendererVersion !== RENDERER_VERSION;
  const rows: [string, React.ReactNode][] = [
    ["Outcome", `${outcome}${outcomeDetail === null ? "" : ` (${outcomeDetail})`}`],
    [
      "Clock",
      `${clock === "begin-frame" ? "the browser's own frames, one by one" : "injected into the page"}, seed ${seed}`,
    ],
    ["Window", `${viewport.width} × ${viewport.height} px`],
    ["Contained by", contained.join(", ")],
    [
      "Renderer",
      <span key="renderer" className={isStale ? "text-care-ink" : ""}>
        {rendererVersion}
        {isStale ? `: stale, the present one is ${RENDERER_VERSION}` : ""}
      </span>,
    ],
    ["Again", describeStability(recording)],
    ["Real time", describeRealTime(recording)],
    ["Drawn", describeDrawn(metrics)],
    ["Libraries", <Substitutions key="libraries" recording={recording} />],
  ];
  return (
    <section className="mt-5">
      <h2 className="mb-1 text-[15px]">How it was recorded</h2>
      <dl className="m-0 grid grid-cols-[96px_1fr] gap-y-1 text-[13px]">
        {rows
          .filter(([, value]) => value !== null)
          .map(([term, value]) => (
            <div key={term} className="contents">
              <dt className="text-soft">{term}</dt>
              <dd className="m-0 break-words">{value}</dd>
            </div>
          ))}
      </dl>
      {recording.frames.length > 0 ? (
        <p className="mt-2 mb-0 text-[13px]">
          <a href={`/api/renders/${renderId}/clip.webp`}>Download the clip</a> (animated WebP) ·{" "}
          <a href={`/api/renders/${renderId}/strip.zip`}>the strip</a> (all frames, with the report)
        </p>
      ) : null}
    </section>
  );
}

function describeStability({ stability }: Recording): string | null {
  if (stability === null) return null;
  if (stability.isStable) return `the same to the byte in ${stability.recordings} recordings`;
  return `not the same in ${stability.recordings} recordings: ${stability.differing.join(", ")}`;
}

function describeRealTime({ realTime }: Recording): string | null {
  if (realTime === null) return null;
  const { p50Ms, p95Ms } = realTime;
  return `${Math.round(1000 / p50Ms)} frames a second; 95 % of intervals under ${p95Ms.toFixed(0)} ms. It depends on the machine.`;
}

function describeDrawn({ firstPaintMs, pageHeight, domNodes, domDepth, servedBytes }: Recording["metrics"]): string {
  return [
    firstPaintMs === null ? "nothing" : `first by ${(firstPaintMs / 1000).toFixed(2)} s`,
    pageHeight === null ? null : `page ${pageHeight} px tall`,
    domNodes === null ? null : `${domNodes.toLocaleString("en")} nodes`,
    domDepth === null ? null : `${domDepth} deep`,
    servedBytes === null ? null : `${(servedBytes / 1000).toFixed(1)} kB loaded`,
  ]
    .filter((part) => part !== null)
    .join(", ");
}

/** Libraries that came from the shelf instead of a public host, those of another version marked. */
function Substitutions({ recording: { substitutions } }: { recording: Recording }) {
  if (substitutions.length === 0) return "none asked for";
  const byWords = new Map(substitutions.map((item) => [`${item.asked} ${item.served}`, item]));
  return (
    <ul className="m-0 list-none p-0">
      {[...byWords.values()].map(({ asked, served, exact, url }) => (
        <li key={url} title={url}>
          {exact ? (
            `${served} from the shelf`
          ) : (
            <span className="text-care-ink">{`asked for ${asked}, got ${served}`}</span>
          )}
        </li>
      ))}
    </ul>
  );
}
