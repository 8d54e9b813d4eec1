import { type RefObject, useLayoutEffect, useState } from "react";

/** An element's width in CSS px, kept up to date; 0 until it is laid out. */
export function useWidth(element: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const current = element.current;
    if (!current) return undefined;
    // The scroll bar's own width is not to be laid out on.
    const measure = () => setWidth(current.clientWidth);
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(current);
    return () => observer.disconnect();
  }, [element]);
  return width;
}
