import type { KeyboardEvent, PointerEvent } from "react";
import { useEffect, useRef, useState } from "react";

interface KnobProps {
  kind: "peg" | "screw";
  string: string;
  x: number;
  y: number;
  lit: boolean;
  /** Where it stands for the eye, in degrees clockwise. */
  angle: number;
  said: string;
  onTurn: (clockwise: number) => void;
}

const RADIUS = 27;
/** What one notch of a wheel or one key makes: degrees of a peg, turns of a screw. */
const NOTCH = { peg: 1, screw: 1 / 16 };
/** A peg's drag is geared down: a real hand feels a degree, a finger on glass doesn't. */
const DEGREES_DRAGGED = { peg: 12, screw: 360 };
const SETTLES_MS = 220;
/** Degrees a millisecond: a finger that goes round slower than that turns finely. */
const SLOW_BELOW = 0.06;
const SLOW_TURNS = 0.4;

/** A peg's head or a screw, seen end-on: drag it round, roll the wheel on it, or press arrow keys. */
export function Knob({ kind, string, x, y, lit, angle, said, onTurn }: KnobProps) {
  const [turning, setTurning] = useState(0);
  const gathered = useGathered(kind === "peg" ? SETTLES_MS : 90, onTurn, setTurning);
  const element = useRef<SVGGElement>(null);
  const dragged = useRef<{ pointer: number; angle: number; at: number } | null>(null);
  useEffect(() => {
    const group = element.current;
    if (group === null) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      gathered.add(event.deltaY < 0 ? NOTCH[kind] : -NOTCH[kind]);
    };
    // A browser heeds touch-action on a whole drawing only: a finger that begins on the knob turns it, and moves no page.
    const onTouch = (event: TouchEvent) => {
      event.preventDefault();
    };
    group.addEventListener("wheel", onWheel, { passive: false });
    group.addEventListener("touchstart", onTouch, { passive: false });
    return () => {
      group.removeEventListener("wheel", onWheel);
      group.removeEventListener("touchstart", onTouch);
    };
  }, [gathered, kind]);

  const angleOf = (event: { clientX: number; clientY: number }) => {
    const box = element.current?.getBoundingClientRect();
    if (box === undefined) return 0;
    return (Math.atan2(event.clientY - box.y - box.height / 2, event.clientX - box.x - box.width / 2) * 180) / Math.PI;
  };
  /** A slow machine tells several moves of a finger as one: each counts, or half a circle would be lost. */
  const drag = (event: PointerEvent) => {
    const told = event.nativeEvent.getCoalescedEvents();
    for (const one of told.length > 0 ? told : [event]) {
      const was = dragged.current;
      if (was?.pointer !== event.pointerId) return;
      const angle = angleOf(one);
      const moved = ((angle - was.angle + 540) % 360) - 180;
      const slow = event.pointerType === "touch" && Math.abs(moved) < SLOW_BELOW * (one.timeStamp - was.at);
      dragged.current = { pointer: was.pointer, angle, at: one.timeStamp };
      gathered.add((moved * (slow ? SLOW_TURNS : 1)) / DEGREES_DRAGGED[kind], kind === "peg");
    }
  };
  const keys: Record<string, number> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 };
  const shown = angle + turning * (kind === "peg" ? 6 : 360);
  return (
    <g
      ref={element}
      role="slider"
      tabIndex={0}
      aria-label={kind === "peg" ? `Peg of the ${string} string` : `Fine tuner of the ${string} string`}
      aria-valuenow={Math.round(angle)}
      aria-valuetext={said}
      className="cursor-grab touch-none outline-offset-4 select-none"
      onPointerDown={(event) => {
        if (dragged.current !== null) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        event.currentTarget.focus();
        dragged.current = { pointer: event.pointerId, angle: angleOf(event), at: event.timeStamp };
      }}
      onPointerMove={drag}
      onPointerUp={(event) => {
        if (dragged.current?.pointer !== event.pointerId) return;
        dragged.current = null;
        gathered.flush();
      }}
      onPointerCancel={(event) => {
        if (dragged.current?.pointer !== event.pointerId) return;
        dragged.current = null;
        gathered.drop();
      }}
      onBlur={gathered.flush}
      onKeyDown={(event: KeyboardEvent) => {
        const way = keys[event.key];
        if (way === undefined) {
          gathered.flush();
          return;
        }
        event.preventDefault();
        gathered.add(way * NOTCH[kind]);
      }}
    >
      <circle cx={x} cy={y} r={RADIUS} fill={lit ? "var(--below)" : "var(--sheet)"} stroke="var(--ink)" strokeWidth={2.5} />
      <g transform={`rotate(${String(shown)} ${String(x)} ${String(y)})`}>
        {kind === "peg" ? (
          <rect
            x={x - 5}
            y={y - RADIUS - 5}
            width={10}
            height={2 * RADIUS + 10}
            rx={5}
            fill={lit ? "var(--paper)" : "var(--ink)"}
          />
        ) : (
          <line
            x1={x - RADIUS + 8}
            x2={x + RADIUS - 8}
            y1={y}
            y2={y}
            stroke={lit ? "var(--paper)" : "var(--ink)"}
            strokeWidth={5}
            strokeLinecap="round"
          />
        )}
      </g>
    </g>
  );
}

/** Gathers small turns and passes them on together once the hand rests, or goes to something else; `hold` waits for the hand
 * to let go. */
function useGathered(
  restMs: number,
  onTurn: (amount: number) => void,
  onShow: (amount: number) => void,
): { add: (amount: number, hold?: boolean) => void; flush: () => void; drop: () => void } {
  const latest = useRef(onTurn);
  useEffect(() => {
    latest.current = onTurn;
  });
  const [gathered] = useState(() => {
    let sum = 0;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const flush = () => {
      clearTimeout(timer);
      const amount = sum;
      sum = 0;
      onShow(0);
      if (Math.abs(amount) > 1e-3) latest.current(amount);
    };
    return {
      add: (amount: number, hold = false) => {
        sum += amount;
        onShow(sum);
        clearTimeout(timer);
        if (!hold) timer = setTimeout(flush, restMs);
      },
      flush,
      drop: () => {
        sum = 0;
        flush();
      },
    };
  });
  return gathered;
}
