import type {
  ButtonHTMLAttributes,
  InputHTMLAttributes,
  ReactNode,
  SelectHTMLAttributes,
  TextareaHTMLAttributes,
} from "react";
import { useId } from "react";

type Tone = "primary" | "plain" | "quiet";

const TONES: Record<Tone, string> = {
  primary: "bg-act text-on-act border-act hover:bg-act-hover hover:border-act-hover font-semibold",
  plain: "bg-sheet text-ink border-rule hover:border-ink",
  quiet: "bg-transparent text-ink border-transparent hover:border-rule",
};

/** A button. One `primary` a screen. */
export function Button({
  tone = "plain",
  compact = false,
  className = "",
  ...rest
}: { tone?: Tone; compact?: boolean } & ButtonHTMLAttributes<HTMLButtonElement>) {
  return (
    <button
      type="button"
      {...rest}
      className={`inline-flex items-center gap-2 rounded border whitespace-nowrap disabled:cursor-default disabled:opacity-50 ${compact ? "h-6 px-2.5 text-[13px]" : "h-8 px-3"} ${TONES[tone]} ${className}`}
    />
  );
}

/** A toggle that is dark when on, for filters and tabs of one line. */
export function Toggle({
  pressed,
  className = "",
  ...rest
}: { pressed: boolean } & ButtonHTMLAttributes<HTMLButtonElement>) {
  const state = pressed ? "bg-ink text-ground border-ink" : "bg-sheet text-ink border-rule hover:border-ink";
  return (
    <button
      type="button"
      aria-pressed={pressed}
      {...rest}
      className={`inline-flex h-6 items-center gap-2 rounded border px-2.5 text-[13px] whitespace-nowrap ${state} ${className}`}
    />
  );
}

export function Kbd({ children }: { children: ReactNode }) {
  return (
    <kbd className="inline-flex h-5 min-w-5 items-center justify-center rounded border border-rule bg-sheet px-1 font-mono text-[11px] text-ink">
      {children}
    </kbd>
  );
}

interface FieldProps {
  label: string;
  hint?: string;
  error?: string | undefined;
}

const inputClass =
  "w-full rounded border border-rule bg-sheet px-2.5 py-1.5 text-ink placeholder:text-soft aria-invalid:border-broken";

export function Field({
  label,
  hint,
  error,
  className = "",
  ...rest
}: FieldProps & InputHTMLAttributes<HTMLInputElement>) {
  const id = useId();
  return (
    <FieldFrame id={id} label={label} hint={hint} error={error} className={className}>
      <input
        id={id}
        aria-invalid={error !== undefined}
        aria-describedby={`${id}-about`}
        {...rest}
        className={inputClass}
      />
    </FieldFrame>
  );
}

export function TextArea({
  label,
  hint,
  error,
  className = "",
  mono = false,
  ...rest
}: FieldProps & { mono?: boolean } & TextareaHTMLAttributes<HTMLTextAreaElement>) {
  const id = useId();
  return (
    <FieldFrame id={id} label={label} hint={hint} error={error} className={className}>
      <textarea
        id={id}
        aria-invalid={error !== undefined}
        aria-describedby={`${id}-about`}
        {...rest}
        className={`${inputClass} ${mono ? "font-mono text-[12px] leading-[18px]" : ""}`}
      />
    </FieldFrame>
  );
}

/** One of a few values, named by a label. */
export function SelectField({
  label,
  hint,
  error,
  options,
  className = "",
  ...rest
}: FieldProps & {
  options: readonly (readonly [value: string, label: string])[];
} & SelectHTMLAttributes<HTMLSelectElement>) {
  const id = useId();
  return (
    <FieldFrame id={id} label={label} hint={hint} error={error} className={className}>
      <select
        id={id}
        aria-invalid={error !== undefined}
        aria-describedby={`${id}-about`}
        {...rest}
        className={inputClass}
      >
        {options.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
    </FieldFrame>
  );
}

export function CheckField({
  label,
  className = "",
  ...rest
}: { label: string } & InputHTMLAttributes<HTMLInputElement>) {
  return (
    <label className={`flex items-center gap-2 ${className}`}>
      <input type="checkbox" {...rest} className="accent-(--ink)" />
      {label}
    </label>
  );
}

function FieldFrame({
  id,
  label,
  hint,
  error,
  className,
  children,
}: {
  id: string;
  label: string;
  hint?: string | undefined;
  error: string | undefined;
  className: string;
  children: ReactNode;
}) {
  return (
    <div className={`grid content-start gap-1 ${className}`}>
      <label htmlFor={id} className="text-[13px] font-semibold">
        {label}
      </label>
      {children}
      <p id={`${id}-about`} className={`m-0 text-[12px] leading-4 ${error ? "text-broken" : "text-soft"}`}>
        {error ?? hint ?? ""}
      </p>
    </div>
  );
}
