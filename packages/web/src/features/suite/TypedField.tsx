import { Field } from "../../ui/controls.js";
import { useTyped } from "./use-typed.js";

export interface TypedProps {
  label: string;
  hint?: string;
  className?: string;
  value: string;
  error?: string | undefined;
  onText: (text: string) => void;
}

/** A field whose text is handed on when the typing lets up. */
export function TypedField({ value, error, onText, ...rest }: TypedProps & { inputMode?: "decimal" }) {
  return <Field {...rest} {...useTyped(value, onText)} error={error} />;
}
