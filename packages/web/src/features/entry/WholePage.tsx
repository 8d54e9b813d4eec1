import type { EntryDetail, WholePage as Whole } from "@tourney/core/contract";
import { useRef } from "react";
import { pictureUrl } from "../../ui/Picture.js";

/** Landmarks in everybody's words. */
const ROLE_WORDS: Readonly<Record<string, string>> = {
  banner: "header",
  contentinfo: "footer",
  complementary: "beside it",
};

/** A page from top to bottom, in a window of the viewport's shape, with a list of its parts that goes to each. */
export function WholePage({ entry, whole }: { entry: EntryDetail; whole: Whole }) {
  const view = useRef<HTMLDivElement>(null);
  const { width, height } = entry.prompt.viewport;
  const goTo = (top: number) => {
    const shown = view.current;
    if (shown) shown.scrollTo({ top: (top / whole.height) * shown.scrollHeight });
  };
  return (
    <>
      <div
        ref={view}
        // Focusable, so that the keyboard scrolls it.
        tabIndex={0}
        role="region"
        aria-label="The whole page"
        className="overflow-y-auto"
        style={{ aspectRatio: `${width} / ${height}` }}
      >
        <img
          src={pictureUrl(whole.file)}
          alt={`${entry.prompt.title} by ${entry.entrant.name}, from top to bottom`}
          width={whole.width}
          height={whole.height}
          className="block h-auto w-full"
        />
      </div>
      <div className="border-t border-rule px-2 py-1.5">
        <p className="figures m-0 text-[13px] text-soft">
          {whole.pageHeight} px tall, {(whole.pageHeight / height).toFixed(1)} windows
          {whole.pageHeight > whole.height ? `; the picture shows the first ${whole.height} px` : ""}
        </p>
        {whole.sections.length === 0 ? null : (
          <ol aria-label="Parts of the page" className="m-0 mt-1 flex list-none flex-wrap gap-x-3 gap-y-1 p-0">
            {whole.sections.map(({ role: landmark, name, top }, index) => {
              const role = ROLE_WORDS[landmark] ?? landmark;
              return (
                <li key={`${index} ${top}`} className="max-w-full">
                  <button
                    type="button"
                    onClick={() => goTo(top)}
                    className="max-w-full truncate border-0 bg-transparent p-0 text-left underline decoration-rule hover:decoration-ink"
                  >
                    {name === "" ? role : name}
                    {name === "" || ["section", "heading"].includes(role) ? null : (
                      <span className="text-soft"> {role}</span>
                    )}
                  </button>
                </li>
              );
            })}
          </ol>
        )}
      </div>
    </>
  );
}
