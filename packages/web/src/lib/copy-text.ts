import { toast } from "sonner";

/** Copies a text, and says so; where the browser does not let it, the text is shown for copying by hand. */
export function copyText(text: string, name: string): void {
  navigator.clipboard.writeText(text).then(
    () => toast(`${name} is copied.`),
    () => toast.error(`It could not be copied: ${text}`),
  );
}
