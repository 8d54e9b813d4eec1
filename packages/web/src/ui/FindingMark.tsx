import type { Finding } from "@tourney/core/contract";

type Rule = Finding["rule"];

const SHAPES: Record<Rule, { word: string; shape: React.ReactNode }> = {
  exception: { word: "exception", shape: <path d="M8 2 15 14H1Z" fill="currentColor" /> },
  blank: {
    word: "blank",
    shape: (
      <rect
        x="2.5"
        y="2.5"
        width="11"
        height="11"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.8"
        strokeDasharray="2.6 1.8"
      />
    ),
  },
  still: { word: "still", shape: <rect x="2" y="6.6" width="12" height="2.8" fill="currentColor" /> },
  blocked_request: {
    word: "asked the network",
    shape: (
      <path
        d="M8 1.6a6.4 6.4 0 1 0 0 12.8A6.4 6.4 0 0 0 8 1.6ZM4 4l8 8"
        fill="none"
        stroke="currentColor"
        strokeWidth="1.9"
      />
    ),
  },
  hung: { word: "hung", shape: <path d="M3 2H13L8.8 8 13 14H3L7.2 8Z" fill="currentColor" /> },
  crashed: {
    word: "crashed",
    shape: <path d="M3 3 13 13M13 3 3 13" fill="none" stroke="currentColor" strokeWidth="2.6" />,
  },
  navigated: {
    word: "went elsewhere",
    shape: <path d="M2 8H12M8 3.5 12.5 8 8 12.5" fill="none" stroke="currentColor" strokeWidth="2.2" />,
  },
};

export const FINDING_RULES = Object.keys(SHAPES) as Rule[];
export const findingWord = (rule: Rule): string => SHAPES[rule].word;

/** A finding by its own shape; the colour repeats how grave it is. */
export function FindingMark({
  rule,
  severity,
  boxed = false,
}: {
  rule: Rule;
  severity: Finding["severity"];
  boxed?: boolean;
}) {
  const color = severity === "error" ? "text-broken" : severity === "warning" ? "text-care" : "text-soft";
  return (
    <span
      className={`${color} inline-flex items-center justify-center ${boxed ? "size-[18px] border border-rule bg-sheet" : ""}`}
    >
      <svg viewBox="0 0 16 16" width="12" height="12" aria-hidden="true">
        {SHAPES[rule].shape}
      </svg>
    </span>
  );
}
