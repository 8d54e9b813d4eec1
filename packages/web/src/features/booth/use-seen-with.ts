import type { SeenWith } from "@tourney/core/contract";
import { useEffect, useRef } from "react";

/** So many frames are timed, once for each bout: after that nothing is measured. */
const FRAMES = 60;
const MS_PER_SECOND = 1000;

/** What points here where nothing has been touched yet. */
function guessPointer(): SeenWith["pointer"] {
  if (window.matchMedia("(pointer: fine)").matches) return "mouse";
  return window.matchMedia("(pointer: coarse)").matches ? "touch" : "none";
}

const POINTERS: Readonly<Record<string, SeenWith["pointer"]>> = { mouse: "mouse", touch: "touch", pen: "pen" };

/** What the voter sees the pages with: measured while the bout is looked at, and shown to nobody there. */
export function useSeenWith(isShown: boolean): () => SeenWith {
  const pointer = useRef<SeenWith["pointer"] | null>(null);
  const frameRate = useRef<number | null>(null);
  useEffect(() => {
    const onPointer = ({ pointerType }: PointerEvent) => {
      pointer.current = POINTERS[pointerType] ?? pointer.current;
    };
    window.addEventListener("pointerdown", onPointer);
    return () => window.removeEventListener("pointerdown", onPointer);
  }, []);
  useEffect(() => {
    if (!isShown) return;
    let first: number | null = null;
    let frames = 0;
    let request = requestAnimationFrame(function next(at) {
      first ??= at;
      if (frames === FRAMES) {
        if (at > first) frameRate.current = Math.round((FRAMES * MS_PER_SECOND) / (at - first));
        return;
      }
      frames++;
      request = requestAnimationFrame(next);
    });
    return () => cancelAnimationFrame(request);
  }, [isShown]);
  return () => ({
    width: window.innerWidth,
    height: window.innerHeight,
    pointer: pointer.current ?? guessPointer(),
    frameRate: frameRate.current,
  });
}
