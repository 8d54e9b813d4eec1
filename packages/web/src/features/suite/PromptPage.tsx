import { type Prompt, type Rules, type WalkthroughStep, watchpointText } from "@tourney/core/contract";
import type { ReactNode } from "react";
import { count } from "../../lib/format.js";
import { formatViewports } from "./raw-values.js";
import { describeStep, holdOf } from "./walkthrough-steps.js";

/** One prompt as it will be sent, driven and judged. */
export function PromptPage({ prompt }: { prompt: Prompt }) {
  const { viewport, furtherViewports, seconds, motion, rules, walkthrough, watchpoints } = prompt;
  return (
    <article className="max-w-[880px] px-8 py-5">
      <h2 className="m-0 text-[26px] leading-8">{prompt.title}</h2>
      <p className="m-0 mt-1 text-soft">
        {prompt.kind} · <span className="font-mono text-[12px]">{prompt.key}</span>
        {prompt.tags.length > 0 ? ` · ${prompt.tags.join(", ")}` : ""}
        {prompt.variantOf ? ` · variant of ${prompt.variantOf.prompt}: ${prompt.variantOf.change}` : ""}
      </p>
      <p className="mt-3 mb-5 text-[16px] leading-6">{prompt.summary}</p>
      <Section title="Sent to every entrant">
        <p className="m-0 border-l-2 border-rule pl-4 leading-[22px] whitespace-pre-line">{unwrap(prompt.text)}</p>
      </Section>
      {prompt.turns.map(({ text }, index) => (
        <Section key={index} title={`Then, as turn ${index + 2}`}>
          <p className="m-0 border-l-2 border-rule pl-4 leading-[22px] whitespace-pre-line">{unwrap(text)}</p>
        </Section>
      ))}
      {prompt.starterFiles.length > 0 ? (
        <Section title="Files sent after it, and beside every page">
          {prompt.starterFiles.map(({ path, text }) => (
            <details key={path}>
              <summary className="cursor-pointer font-mono text-[12px]">
                {path} <span className="text-soft">{count(text.length, "character")}</span>
              </summary>
              <pre
                tabIndex={0}
                className="m-0 max-h-60 overflow-auto border border-rule bg-sheet p-2 font-mono text-[12px]"
              >
                {text}
              </pre>
            </details>
          ))}
        </Section>
      ) : null}
      <Section title="Rules and recording">
        <dl className="m-0 grid grid-cols-[160px_1fr] gap-y-1">
          <Row term="Files">{rules.singleFile ? "one file that holds everything" : "several files allowed"}</Row>
          <Row term="Libraries">
            {describeLibraries(rules)}
            {rules.framework === "forbidden" ? ", frameworks forbidden" : ""}
          </Row>
          {rules.language ? <Row term="Language">{LANGUAGES[rules.language]}</Row> : null}
          <Row term="Viewport">
            {formatViewports([viewport])} px
            {furtherViewports.length > 0 ? `, and a look at ${formatViewports(furtherViewports)}` : ""}
          </Row>
          <Row term="Recorded">
            {seconds} s{motion ? ", motion expected" : ", may stand still"}
          </Row>
        </dl>
      </Section>
      <Section
        title={
          walkthrough.length === 0
            ? "No walkthrough: nothing is pressed"
            : `Walkthrough, ${count(walkthrough.length, "input")}`
        }
      >
        {walkthrough.length === 0 ? null : <WalkthroughStrip steps={walkthrough} seconds={seconds} />}
      </Section>
      <Section title="What to look for">
        <ol className="m-0 list-decimal pl-5">
          {watchpoints.map((watchpoint) => (
            <li key={watchpointText(watchpoint)} className="py-0.5">
              {watchpointText(watchpoint)}
              {typeof watchpoint === "string" ? null : (
                <span className="text-soft"> · seen in the {watchpoint.evidence}</span>
              )}
            </li>
          ))}
        </ol>
      </Section>
    </article>
  );
}

/** A suite file breaks lines to fit an editor; a paragraph on screen breaks where the screen does. */
const unwrap = (text: string) => text.trim().replace(/(\S)\n(?=\S)/g, "$1 ");

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="border-t border-rule py-4">
      <h3 className="m-0 mb-2 text-[15px] leading-5">{title}</h3>
      {children}
    </section>
  );
}

function Row({ term, children }: { term: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{term}</dt>
      <dd className="m-0">{children}</dd>
    </>
  );
}

const LANGUAGES: Record<NonNullable<Rules["language"]>, string> = {
  html: "an HTML page",
  svg: "an SVG file",
  javascript: "scripts in plain JavaScript",
};

function describeLibraries({ libraries }: Rules): string {
  if (typeof libraries === "string") return libraries;
  return Array.isArray(libraries) ? `only ${libraries.join(", ")}` : `${libraries.use.join(", ")}, to be used`;
}

/** When each input happens, on the recording's own clock. */
function WalkthroughStrip({ steps, seconds }: { steps: WalkthroughStep[]; seconds: number }) {
  const percent = (ms: number) => `${(ms / (seconds * 1000)) * 100}%`;
  return (
    <div>
      <ol className="m-0 list-none border-b border-ink p-0" aria-label="Inputs by time">
        {steps.map((step) => (
          <li key={`${step.atMs}${describeStep(step)}`} className="relative h-6">
            <span
              className="absolute top-1 h-4 bg-ink"
              style={{ left: percent(step.atMs), width: `max(3px, ${percent(holdOf(step))})` }}
            />
            <span
              className="absolute top-0.5 font-mono text-[11px] leading-5 whitespace-nowrap"
              style={
                step.atMs > seconds * 1000 - step.atMs - holdOf(step)
                  ? { right: `calc(100% - ${percent(step.atMs)} + 6px)` }
                  : { left: `calc(${percent(step.atMs + holdOf(step))} + 6px)` }
              }
            >
              {describeStep(step)} <span className="text-soft">at {(step.atMs / 1000).toFixed(1)} s</span>
            </span>
          </li>
        ))}
      </ol>
      <div className="flex justify-between font-mono text-[11px] text-soft">
        {Array.from({ length: Math.floor(seconds) + 1 }, (_, second) => (
          <span key={second}>{second}</span>
        ))}
      </div>
    </div>
  );
}
