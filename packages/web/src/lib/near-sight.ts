import { type RefCallback, useCallback, useState } from "react";
import { flushSync } from "react-dom";

/** What is so far outside the window counts as near: it is drawn before it is scrolled to. */
const NEAR_PX = 600;

const CAN_TELL = typeof IntersectionObserver !== "undefined";

/** What to do for each element that has not been near yet; one observer for all, since a table may have hundreds. */
const waiting = new Map<Element, () => void>();
let observer: IntersectionObserver | undefined;

function watch(element: Element, onNear: () => void): () => void {
  observer ??= startObserver();
  waiting.set(element, onNear);
  observer.observe(element);
  return () => forget(element);
}

function startObserver(): IntersectionObserver {
  // On paper all is in sight.
  addEventListener("beforeprint", () => flushSync(() => [...waiting.keys()].forEach(tell)));
  return new IntersectionObserver(
    (entries) => entries.filter(({ isIntersecting }) => isIntersecting).forEach(({ target }) => tell(target)),
    { rootMargin: `${NEAR_PX}px` },
  );
}

function tell(element: Element): void {
  waiting.get(element)?.();
  forget(element);
}

function forget(element: Element): void {
  waiting.delete(element);
  observer?.unobserve(element);
}

/** Whether an element has been near sight since it was drawn, for contents that are too many to be drawn all at once. Where nothing tells what is in sight, all is. */
export function useNearSight(): [isNear: boolean, ref: RefCallback<Element>] {
  const [isNear, setNear] = useState(!CAN_TELL);
  const ref = useCallback(
    (element: Element | null) => (element === null || !CAN_TELL ? undefined : watch(element, () => setNear(true))),
    [],
  );
  return [isNear, ref];
}
