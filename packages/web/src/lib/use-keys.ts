import { useEffect, useRef } from "react";

/** Where a key is for what is written or chosen there, and not for the screen. */
const OWN_KEYS = "input, textarea, select, [contenteditable], [role=dialog], .cm-editor";

/** Whether what has the focus wants the keys for itself. */
export const wantsKeys = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest(OWN_KEYS) !== null;

/** Gives a screen the keys that are struck on it: none with Ctrl, Alt or Meta, and none while somebody writes. */
export function useKeys(onKey: (event: KeyboardEvent) => void): void {
  const latest = useRef(onKey);
  useEffect(() => {
    latest.current = onKey;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || wantsKeys(event.target)) return;
      latest.current(event);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
