import type { ChainLink } from "../../api/fifths";

const WIDTH = 132;
const SHOWN_CENTS = 8;

interface WidthGaugeProps {
  link: ChainLink;
  pure: number;
  tempered: number;
}

/** One fifth's width to scale, narrow to the left and wide to the right, against where pure and tempered stand. */
export function WidthGauge({ link, pure, tempered }: WidthGaugeProps) {
  const off = link.from_temperament_cents;
  const at = (cents: number) =>
    WIDTH / 2 + (Math.max(-SHOWN_CENTS, Math.min(SHOWN_CENTS, cents)) / SHOWN_CENTS) * (WIDTH / 2 - 10);
  return (
    <svg viewBox={`0 0 ${String(WIDTH)} 40`} className="w-full max-w-44" aria-hidden>
      <line x1={6} x2={WIDTH - 6} y1={26} y2={26} stroke="var(--rule)" strokeWidth={2} />
      <Mark x={at(tempered)} name="tempered" anchor="end" />
      <Mark x={at(pure)} name="pure" anchor="start" />
      {off !== null && Math.abs(off) <= SHOWN_CENTS && <circle cx={at(off)} cy={26} r={6} fill="var(--ink)" />}
      {off !== null && Math.abs(off) > SHOWN_CENTS && (
        <path d={off > 0 ? "M118 19 l9 7 l-9 7 z" : "M14 19 l-9 7 l9 7 z"} fill={off > 0 ? "var(--above)" : "var(--below)"} />
      )}
    </svg>
  );
}

/** The two stand near each other: their names go outwards. */
function Mark({ x, name, anchor }: { x: number; name: string; anchor: "start" | "end" }) {
  return (
    <g>
      <line x1={x} x2={x} y1={16} y2={36} stroke="var(--pencil)" strokeWidth={2} />
      <text x={anchor === "end" ? x + 3 : x - 3} y={12} textAnchor={anchor} fontSize={13} fill="var(--pencil)">
        {name}
      </text>
    </g>
  );
}
