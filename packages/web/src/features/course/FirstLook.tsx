import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { useGetWallQuery } from "../../api/wall-api.js";
import { FIRST_STEPS } from "../../lib/first-steps.js";
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

  const show = (to: number) => {
    if (to === FIRST_STEPS.length) {
      onEnd();
      return;
    }
    setStep(to);
    const { place, path } = FIRST_STEPS[to]!;
    void navigate(place === "Entry" && entryId !== null ? `/entries/${entryId}` : path);
  };
  const { place, text } = FIRST_STEPS[step]!;
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
          {step + 1} of {FIRST_STEPS.length}
        </span>
      </p>
      <p className="mt-1 mb-3 leading-6">{text}</p>
      <div className="flex items-center gap-2">
        <Button tone="primary" onClick={() => show(step + 1)}>
          {step + 1 === FIRST_STEPS.length ? "Done" : "Next"}
        </Button>
        {step > 0 ? <Button onClick={() => show(step - 1)}>Back</Button> : null}
        <Button tone="quiet" className="ml-auto" onClick={onEnd}>
          Skip <kbd className="text-[13px] text-soft">Esc</kbd>
        </Button>
      </div>
    </section>
  );
}
