import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { useGetWallQuery } from "../../api/wall-api.js";
import { Button } from "../../ui/controls.js";
import { useGetCourseQuery } from "./course-api.js";

const STORAGE_KEY = "tourney.first-look";
type Stored = "wanted" | "seen";
const store = (stored: Stored) => window.localStorage.setItem(STORAGE_KEY, stored);
const isWanted = () => window.localStorage.getItem(STORAGE_KEY) === ("wanted" satisfies Stored);

/** The demo's own sign-in link asks for the tour; who has seen it is not led round again. */
export function wantFirstLook(): void {
  if (window.localStorage.getItem(STORAGE_KEY) === null) store("wanted");
}

/** The four screens on which a lead spends the day, in the order of the work, each with what to try there. */
const STEPS = [
  {
    place: "Wall",
    text: "Each row is a prompt, each column a model. Move the pointer across a cell to scrub its recording; press Enter to open it.",
  },
  {
    place: "Entry",
    text: "The page runs live in a sandbox. Beside it are its recording, its log, what the recorder found, its code and what it cost.",
  },
  {
    place: "Booth",
    text: "People vote blind on pairs. “Open the booth” shows what a voter sees: two pages without names, and one answer from the keyboard.",
  },
  {
    place: "Standings",
    text: "Ratings come with intervals. Models whose intervals overlap share a bracket; the forecast says how many ballots would part them.",
  },
] as const;

/** A short tour of the demo, laid over the real screens on the first visit. Escape ends it, and it does not come back. */
export function FirstLook() {
  const { data: course } = useGetCourseQuery(undefined);
  const [isOpen, setIsOpen] = useState(isWanted);
  if (!isOpen || course?.sample !== true || course.edition === null) return null;
  const end = () => {
    store("seen");
    setIsOpen(false);
  };
  return <Tour editionId={course.edition.id} onEnd={end} />;
}

function Tour({ editionId, onEnd }: { editionId: string; onEnd: () => void }) {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [step, setStep] = useState(0);
  const { data: wall } = useGetWallQuery({ editionId, take: 1 });
  const entryId = wall?.cells.find((cell) => cell.entryId !== null && cell.state === "recorded")?.entryId ?? null;
  const tour = useRef<HTMLElement>(null);

  // The tour begins on the wall; who follows a link to one entry stays where the link leads.
  const begins = useRef(pathname.split("/").length <= 2);
  useEffect(() => {
    if (begins.current) void navigate("/wall", { replace: true });
    begins.current = false;
  }, [navigate]);
  useEffect(() => tour.current?.querySelector("button")?.focus(), [step]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "Escape") onEnd();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [onEnd]);

  const places = ["/wall", entryId === null ? "/wall" : `/entries/${entryId}`, "/voting", "/standings"];
  const show = (to: number) => {
    if (to === STEPS.length) {
      onEnd();
      return;
    }
    setStep(to);
    void navigate(places[to]!);
  };
  const { place, text } = STEPS[step]!;
  return (
    <section
      ref={tour}
      role="dialog"
      aria-label="First look"
      className="fixed bottom-6 left-1/2 z-40 w-[560px] max-w-[calc(100vw-32px)] -translate-x-1/2 rounded border border-ink bg-sheet p-4 shadow-lg"
    >
      <p className="m-0 flex items-baseline gap-3">
        <strong className="font-display text-lg">{place}</strong>
        <span className="text-[13px] text-soft">
          {step + 1} of {STEPS.length}
        </span>
      </p>
      <p className="mt-1 mb-3 leading-6">{text}</p>
      <div className="flex items-center gap-2">
        <Button tone="primary" onClick={() => show(step + 1)}>
          {step + 1 === STEPS.length ? "Done" : "Next"}
        </Button>
        {step > 0 ? <Button onClick={() => show(step - 1)}>Back</Button> : null}
        <Button tone="quiet" className="ml-auto" onClick={onEnd}>
          Skip <kbd className="text-[13px] text-soft">Esc</kbd>
        </Button>
      </div>
    </section>
  );
}
