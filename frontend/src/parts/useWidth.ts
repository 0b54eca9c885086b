import { useEffect, useRef, useState } from "react";

/** The width of an element in px, kept current. The element must not be held wide by what is drawn in it
 * (`overflow-hidden` or `contain-inline-size`), or it never becomes narrower again. */
export function useWidth<T extends HTMLElement>(initial: number) {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(initial);
  useEffect(() => {
    const element = ref.current;
    if (element === null) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry !== undefined) setWidth(entry.contentRect.width);
    });
    watch.observe(element);
    return () => {
      watch.disconnect();
    };
  }, []);
  return { ref, width };
}
