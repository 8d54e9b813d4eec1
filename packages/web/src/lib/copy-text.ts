import { toast } from "sonner";

/** Copies a text, and says so; where the browser does not let it, the text is shown for copying by hand. */
export function copyText(text: string, name: string): void {
  // Away from localhost and without TLS there is no clipboard at all.
  const clipboard = navigator.clipboard as Clipboard | undefined;
  const copied = clipboard === undefined ? Promise.reject(new Error("no clipboard")) : clipboard.writeText(text);
  copied.then(
    () => toast(`${name} is copied.`),
    () => toast.error(`It could not be copied: ${text}`),
  );
}
