import type { Course } from "@tourney/core/contract";
import { Monitor, Moon, Sun } from "lucide-react";
import { useSearchParams } from "react-router";
import { EditionNavLink, useEditionInAddress } from "../../api/edition-links.js";
import { useEdition } from "../../api/use-edition.js";
import { useFollow } from "../../api/use-follow.js";
import { type ThemeChoice, useTheme } from "../../lib/theme.js";
import { count, formatUsd } from "../../lib/format.js";
import { useGetCourseQuery } from "./course-api.js";

interface Step {
  key: Course["next"];
  label: string;
  state: (course: Course) => string;
}

const STEPS: readonly Step[] = [
  {
    key: "suite",
    label: "Suite",
    state: ({ edition }) =>
      edition ? `edition ${edition.number} · ${count(edition.promptCount, "prompt")}` : "none yet",
  },
  { key: "entrants", label: "Entrants", state: ({ entrants }) => (entrants === 0 ? "none yet" : String(entrants)) },
  { key: "runs", label: "Runs", state: describeRuns },
  {
    key: "wall",
    label: "Wall",
    state: ({ needLook, cells }) =>
      cells.answered === 0
        ? "empty"
        : needLook === 0
          ? "nothing broken"
          : `${needLook} ${needLook === 1 ? "needs" : "need"} a look`,
  },
  {
    key: "voting",
    label: "Voting",
    state: ({ ballots, voters }) =>
      ballots === 0 ? "no ballots yet" : `${count(ballots, "ballot")} · ${count(voters, "voter")}`,
  },
  { key: "standings", label: "Standings", state: describeLead },
];

function describeRuns({ cells: { total, answered, failed, costUsd } }: Course): string {
  if (total === 0) return "none yet";
  return `${answered} of ${total}${failed > 0 ? ` · ${failed} failed` : ` · ${formatUsd(costUsd)}`}`;
}

const NUMBER_WORDS = ["", "", "two", "three", "four", "five", "six"];

function describeLead({ leaders, ballots }: Course): string {
  if (ballots === 0 || leaders.length === 0) return "no ratings yet";
  if (leaders.length === 1) return `${leaders[0]!} leads`;
  return `${NUMBER_WORDS[leaders.length] ?? leaders.length} share the lead`;
}

/** The steps of the job in order, each with its live state; a notch on the one that needs the lead next. */
export function CourseBar() {
  const editionId = useEditionInAddress() ?? undefined;
  const { data, currentData, refetch } = useGetCourseQuery(editionId);
  // Without an edition in the address, the server answers for the newest. Once the address names that one, the bar keeps this answer until the next.
  const course = currentData ?? (data?.edition?.id === editionId ? data : undefined);
  useFollow(refetch, { about: ["cells", "ballots"], everyMs: 1000 });
  return (
    <header className="flex border-b border-strong-rule bg-ground max-md:flex-wrap">
      <div className="w-56 shrink-0 border-r border-rule px-4 py-2.5 max-lg:w-40 max-md:w-auto max-md:flex-1 max-md:border-r-0 max-md:py-1.5">
        <span className="flex items-baseline justify-between gap-2">
          <EditionNavLink to="/" className="font-display text-[20px] leading-6 font-bold text-ink no-underline">
            Tourney
          </EditionNavLink>
          <EditionChoice />
        </span>
        <p className="m-0 flex text-[12px] leading-4 whitespace-nowrap text-soft" title={course?.title ?? undefined}>
          <span className="truncate">{course === undefined ? "\u00a0" : (course.title ?? "no suite yet")}</span>
          {course?.sample ? <span className="shrink-0 text-care-ink">&nbsp;· sample data</span> : null}
        </p>
      </div>
      <nav
        aria-label="Steps of the job"
        className="flex min-w-0 flex-1 max-md:order-last max-md:grid max-md:basis-full max-md:grid-cols-3 max-md:border-t max-md:border-rule"
      >
        {STEPS.map(({ key, label, state }) => (
          <EditionNavLink
            key={key}
            to={`/${key}`}
            className={({ isActive }) =>
              `relative min-w-0 flex-1 border-r border-rule px-3.5 py-2.5 text-ink no-underline hover:bg-sheet max-md:border-b max-md:py-1 ${isActive ? "shadow-[inset_0_-3px_0_var(--ink)]" : ""}`
            }
          >
            {course?.next === key ? <NextNotch /> : null}
            <span className="block font-display text-[16px] leading-6 font-semibold">{label}</span>
            <span className="figures block truncate text-[12px] leading-4 text-soft">
              {course ? state(course) : "\u00a0"}
            </span>
          </EditionNavLink>
        ))}
      </nav>
      <ThemeSwitch />
    </header>
  );
}

/** Which edition every screen shows: part of each address, so that a link says it and no step changes it. */
function EditionChoice() {
  const { edition, editions } = useEdition();
  const [, setSearch] = useSearchParams();
  if (!edition || editions.length < 2) return null;
  const choose = (id: string) =>
    setSearch((now) => {
      const next = new URLSearchParams(now);
      next.set("edition", id);
      return next;
    });
  const isOneSuite = new Set(editions.map(({ suiteKey }) => suiteKey)).size === 1;
  return (
    <select
      aria-label="Edition"
      title={`${edition.suiteTitle}, edition ${edition.number}`}
      value={edition.id}
      onChange={(event) => choose(event.target.value)}
      className="h-5 max-w-28 min-w-0 truncate rounded border border-rule bg-sheet px-1 text-[12px] text-ink"
    >
      {editions.map(({ id, number, suiteTitle, archived }) => (
        <option key={id} value={id}>
          {isOneSuite ? `edition ${number}` : `${suiteTitle}, ${number}`}
          {archived ? " (archived)" : ""}
        </option>
      ))}
    </select>
  );
}

function NextNotch() {
  return (
    <>
      <svg className="absolute top-0 left-0" width="10" height="10" aria-hidden="true">
        <path d="M0 0H10L0 10Z" className="fill-act" />
      </svg>
      <span className="sr-only">Next: </span>
    </>
  );
}

const THEMES: Record<ThemeChoice, { next: ThemeChoice; icon: typeof Sun; label: string }> = {
  system: { next: "light", icon: Monitor, label: "Theme: as the system" },
  light: { next: "dark", icon: Sun, label: "Theme: light" },
  dark: { next: "system", icon: Moon, label: "Theme: dark" },
};

function ThemeSwitch() {
  const [choice, choose] = useTheme();
  const { next, icon: Icon, label } = THEMES[choice];
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={() => choose(next)}
      className="flex w-12 shrink-0 items-center justify-center border-0 bg-transparent text-soft hover:text-ink"
    >
      <Icon size={16} aria-hidden="true" />
    </button>
  );
}
