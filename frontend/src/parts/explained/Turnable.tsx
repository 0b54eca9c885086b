import type { ReactNode } from "react";
import { useEffect, useRef, useState } from "react";

const ONCE_MS = 5000;

interface TurnableProps {
  label: string;
  /** The drawing, turned so far: −1 all down, 1 all up. */
  children: (turned: number) => ReactNode;
}

/** A drawing that can be turned by hand. It shows its motion once as it is first seen, unless still pictures are asked for. */
export function Turnable({ label, children }: TurnableProps) {
  const [turned, setTurned] = useState(0);
  const frame = useRef<HTMLDivElement>(null);
  const running = useRef(0);
  useEffect(() => {
    const seen = frame.current;
    if (seen === null || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    let began: number | null = null;
    const go = (now: number) => {
      began ??= now;
      const share = Math.min(1, (now - began) / ONCE_MS);
      setTurned(Math.sin(2 * Math.PI * share));
      if (share < 1) running.current = requestAnimationFrame(go);
      else setTurned(0);
    };
    const watch = new IntersectionObserver((entries) => {
      if (!entries.some((each) => each.isIntersecting)) return;
      watch.disconnect();
      running.current = requestAnimationFrame(go);
    });
    watch.observe(seen);
    return () => {
      watch.disconnect();
      cancelAnimationFrame(running.current);
    };
  }, []);
  return (
    <div ref={frame} className="flex max-w-md flex-col">
      {children(turned)}
      <label className="flex min-h-11 items-center gap-3 text-sm text-pencil print:hidden">
        {label}
        <input
          type="range"
          min={-100}
          max={100}
          value={Math.round(100 * turned)}
          className="h-11 min-w-0 flex-1 accent-ink"
          onChange={(event) => {
            cancelAnimationFrame(running.current);
            setTurned(Number(event.target.value) / 100);
          }}
        />
      </label>
    </div>
  );
}
