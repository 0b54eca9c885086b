import { useEffect, useEffectEvent } from "react";

/** The key that finds, from anywhere: / outside of a field, Ctrl K in one too. */
export function useFindKey(open: () => void, enabled: boolean): void {
  const begin = useEffectEvent(open);
  useEffect(() => {
    if (!enabled) return;
    const onKey = (event: KeyboardEvent) => {
      const commanded = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k";
      if (!commanded && !(event.key === "/" && !isField(event.target))) return;
      event.preventDefault();
      begin();
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, [enabled]);
}

function isField(at: EventTarget | null): boolean {
  return at instanceof Element && at.closest("input, textarea, select, [contenteditable=true]") !== null;
}
