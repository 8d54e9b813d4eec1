import type { Finding } from "@tourney/core/contract";
import { RULE_WORDS } from "@tourney/core/page";

type Rule = Finding["rule"];

const line = (d: string, width = 1.8) => (
  <path d={d} fill="none" stroke="currentColor" strokeWidth={width} strokeLinejoin="round" />
);
const solid = (d: string) => <path d={d} fill="currentColor" />;

/** A shape of its own for each finding, so that no colour is needed to tell them apart. */
const SHAPES: Record<Rule, React.ReactNode> = {
  exception: solid("M8 2 15 14H1Z"),
  blank: (
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
  still: solid("M2 6.6H14V9.4H2Z"),
  blocked_request: line("M8 1.6a6.4 6.4 0 1 0 0 12.8A6.4 6.4 0 0 0 8 1.6ZM4 4l8 8", 1.9),
  hung: solid("M3 2H13L8.8 8 13 14H3L7.2 8Z"),
  crashed: line("M3 3 13 13M13 3 3 13", 2.6),
  navigated: line("M2 8H12M8 3.5 12.5 8 8 12.5", 2.2),
  dead_control: line("M5 4.5H11A3.5 3.5 0 0 1 11 11.5H5A3.5 3.5 0 0 1 5 4.5ZM3 14 13 2"),
  missing_control: line("M5 4.5H11A3.5 3.5 0 0 1 11 11.5H5A3.5 3.5 0 0 1 5 4.5ZM8 6.2V8.2M8 9.2V10.2", 1.6),
  needs_device: line("M2 4.5H14V12.5H2ZM8 6.2A2.3 2.3 0 1 1 8 10.8 2.3 2.3 0 0 1 8 6.2Z", 1.6),
  unreadable_text: (
    <path d="M2 4H14M2 8H9M2 12H12" fill="none" stroke="currentColor" strokeWidth="2" strokeDasharray="1.4 1.4" />
  ),
  overflow: line("M9.5 2.5H2V13.5H9.5M5.5 8H15M12 5 15 8 12 11"),
  missing_asset: line("M14 9V13.5H2V2.5H8M2 13 7 8M10 2 14 6M14 2 10 6"),
  library_missing: line("M3 2V14M7 2V14M11 2V4.5M11 7V9.5M11 12V14M14 2V14", 2),
  popup: line("M2 6H10V14H2ZM6 6V2H14V10H10"),
  dialog: line("M2 3H14V10.5H8L5 14V10.5H2Z"),
  slow_frames: line("M2 12A6 6 0 0 1 14 12M8 12 4.5 8", 2),
  tall_page: line("M4.5 1.5H11.5V9.5H4.5ZM8 9.5V15M5.5 12.5 8 15 10.5 12.5"),
  goes_wrong: line("M1.5 4.5H6L9 9 14 13.5M14 9.5V13.5H10", 2.1),
  accessibility: line(
    "M8 2.2A1.4 1.4 0 1 1 8 5 1.4 1.4 0 0 1 8 2.2ZM2.5 6.5 8 7.4 13.5 6.5M8 7.4V10L5 14.5M8 10 11 14.5",
    1.6,
  ),
  unstable: line("M2 6H14M2 10.5H14M11 2 5 14.5"),
};

export const FINDING_RULES = Object.keys(SHAPES) as Rule[];
export const findingWord = (rule: Rule): string => RULE_WORDS[rule].word;

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
        {SHAPES[rule]}
      </svg>
    </span>
  );
}
