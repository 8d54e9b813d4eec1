import { NOTCHES } from "./ballot-draft.js";

/** How far the ends of the beam go up or down for each notch, in pixels. */
const TIP_PX = 9;

/** The lean: one horizontal beam with five notches on a fulcrum. Choosing a notch tips the beam to its side. */
export function Lean({
  lean,
  name,
  onChange,
}: {
  lean: number | null;
  /** Tells the notches of one beam from those of another on the page. */
  name: string;
  onChange: (lean: number) => void;
}) {
  const tip = (lean ?? 0) * TIP_PX;
  const y = (position: number) => 22 + ((position - 50) / 40) * tip;
  return (
    <fieldset className="m-0 min-w-0 border-0 p-0">
      <legend className="sr-only">Which is better?</legend>
      <div className="relative h-[104px]">
        <svg className="absolute inset-0 size-full" viewBox="0 0 100 104" preserveAspectRatio="none" aria-hidden="true">
          <line
            x1="10"
            y1={y(10)}
            x2="90"
            y2={y(90)}
            className="stroke-ink transition-all duration-200"
            strokeWidth="3"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        <svg
          className="absolute top-[34px] left-1/2 -translate-x-1/2 fill-ink"
          width="30"
          height="26"
          viewBox="0 0 30 26"
          aria-hidden="true"
        >
          <path d="M15 0 30 26H0Z" />
        </svg>
        {NOTCHES.map(({ lean: value, label }, index) => {
          const position = 10 + index * 20;
          const isChosen = lean === value;
          return (
            <label
              key={value}
              className="absolute grid w-28 max-w-[20%] -translate-x-1/2 cursor-pointer justify-items-center transition-all duration-200"
              style={{ left: `${position}%`, top: y(position) - 14 }}
            >
              <input
                type="radio"
                name={name}
                className="peer sr-only"
                checked={isChosen}
                onChange={() => onChange(value)}
                aria-label={label}
              />
              <span
                className={`relative z-10 grid size-7 place-items-center rounded-full border-2 border-ink font-mono text-[12px] peer-focus-visible:outline-2 peer-focus-visible:outline-offset-2 peer-focus-visible:outline-act ${isChosen ? "bg-act text-on-act" : "bg-ground text-ink"}`}
              >
                {index + 1}
              </span>
              <span
                className={`${value === 0 ? "mt-8" : "mt-1"} text-center text-[13px] whitespace-nowrap max-[640px]:text-[11px] max-[640px]:leading-3 max-[640px]:whitespace-normal ${isChosen ? "font-semibold text-ink" : "text-soft"}`}
              >
                {label}
              </span>
            </label>
          );
        })}
      </div>
    </fieldset>
  );
}
