import type { Hold, Step, StringBench } from "../api/client";

/** A string as far as these drawings need it. */
type DrawnString = Pick<StringBench, "name" | "roman" | "thickness"> & { fine_tuner: unknown };

interface TurnDrawingProps {
  step: Step;
  strings: DrawnString[];
  current: string;
  hold: Hold;
}

/** Where to turn and which way: the pegbox or the tailpiece as this person sees it, one part lit, and its head end-on. */
export function TurnDrawing({ step, strings, current, hold }: TurnDrawingProps) {
  const peg = step.do === "turn-peg";
  return (
    <figure
      className="flex items-center justify-around gap-2"
      aria-label={`${peg ? "Peg" : "Fine tuner"} of the ${current} string, ${step.rotation ?? ""}`}
    >
      {peg ? (
        <Pegbox strings={strings} current={current} hold={hold} />
      ) : (
        <Tailpiece strings={strings} current={current} hold={hold} />
      )}
      <HeadEndOn step={step} peg={peg} />
    </figure>
  );
}

interface PartProps {
  strings: DrawnString[];
  /** Lit; null: none. */
  current: string | null;
  hold: Hold;
  /** Without the strings' names on their pegs. */
  unnamed?: boolean;
}

const LOWEST_PEG = { left: 112, right: 134 };
const PEGS_REACH = 54;

/** Scroll up: the thicker half to the left, the thickest lowest; the thinner half to the right, the thinnest lowest. */
function pegPlace(at: number, count: number): { left: boolean; y: number } {
  const right = Math.floor(count / 2);
  const left = at < count - right;
  const [pegs, fromBelow] = left ? [count - right, at] : [right, count - 1 - at];
  const up = pegs > 1 ? (PEGS_REACH * fromBelow) / (pegs - 1) : 0;
  return { left, y: LOWEST_PEG[left ? "left" : "right"] - up };
}

/** The pegbox as this person sees it. */
export function Pegbox({ strings, current, hold, unnamed = false }: PartProps) {
  const across = hold.seen_from === "guitar";
  const fromBehind = hold.seen_from === "behind" || across;
  const turned = { front: 0, behind: 0, scroll: 180, guitar: -90 }[hold.seen_from];
  return (
    <svg viewBox={across ? "-17 4 184 176" : "0 0 150 176"} className="h-32 w-auto sm:h-40" aria-hidden>
      <g transform={`rotate(${String(turned)} 75 92)`}>
        <path
          d="M62 172 V48 q0 -10 6 -14 a15 15 0 1 1 14 0 q6 4 6 14 V172 z"
          fill="var(--paper)"
          stroke="var(--ink)"
          strokeWidth={2}
        />
        <circle cx={75} cy={20} r={5} fill="none" stroke="var(--ink)" strokeWidth={2} />
        {[...strings]
          .sort((one, other) => other.thickness - one.thickness)
          .map((each, at) => {
            const place = pegPlace(at, strings.length);
            const left = place.left !== fromBehind;
            const lit = each.name === current;
            return (
              <PegDrawn key={each.name} name={unnamed ? "" : each.name} left={left} y={place.y} lit={lit} turned={turned} />
            );
          })}
      </g>
    </svg>
  );
}

function PegDrawn(props: { name: string; left: boolean; y: number; lit: boolean; turned: number }) {
  const { name, left, y, lit, turned } = props;
  const fill = lit ? "var(--below)" : "var(--sheet)";
  const headX = left ? 26 : 124;
  return (
    <g>
      <rect
        x={left ? 36 : 60}
        y={y - 3.5}
        width={54}
        height={7}
        fill={lit ? "var(--below)" : "var(--rule)"}
        stroke="var(--ink)"
        strokeWidth={1}
      />
      <ellipse cx={headX} cy={y} rx={13} ry={17} fill={fill} stroke="var(--ink)" strokeWidth={lit ? 2.5 : 1.5} />
      <text
        x={headX}
        y={y + 6}
        textAnchor="middle"
        fontSize={17}
        fontWeight={700}
        fill={lit ? "var(--sheet)" : "var(--ink)"}
        transform={`rotate(${String(-turned)} ${String(headX)} ${String(y)})`}
      >
        {name}
      </text>
    </g>
  );
}

/** The tailpiece with its fine tuners as this person sees it. */
export function Tailpiece({ strings, current, hold }: PartProps) {
  const order = asSeen(hold, strings);
  const flipped = hold.seen_from === "scroll";
  return (
    <svg viewBox="0 0 170 150" className="h-36 w-auto" aria-hidden>
      <path
        d={flipped ? "M18 138 H152 L112 12 q-27 -10 -54 0 z" : "M18 12 H152 L112 138 q-27 10 -54 0 z"}
        fill="var(--paper)"
        stroke="var(--ink)"
        strokeWidth={2}
      />
      {order.map((each, place) => {
        const lit = each.name === current;
        const fitted = each.fine_tuner !== null;
        const x = 37 + place * 32;
        const y = flipped ? 112 : 40;
        return (
          <g key={each.name}>
            <line x1={x} x2={x} y1={y} y2={flipped ? 150 : 0} stroke="var(--ink)" strokeWidth={1 + each.thickness * 3} />
            {fitted && (
              <circle
                cx={x}
                cy={y}
                r={14}
                fill={lit ? "var(--below)" : "var(--sheet)"}
                stroke="var(--ink)"
                strokeWidth={lit ? 2.5 : 1.5}
              />
            )}
            <text x={x} y={y + 6} textAnchor="middle" fontSize={17} fontWeight={700} fill={lit ? "var(--sheet)" : "var(--ink)"}>
              {each.name}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** The strings from left to right as this person sees them. */
export function asSeen<T extends { name: string }>(hold: Hold, strings: T[]): T[] {
  return hold.strings.flatMap((name) => strings.filter((each) => each.name === name));
}

const ARROW = { x: 65, y: 62, radius: 44, from: 150, to: 24 };

/** An arrow most of the way round; angles in degrees clockwise from three o'clock. */
function TurningArrow({ clockwise }: { clockwise: boolean }) {
  const on = (degrees: number, radius: number): [number, number] => {
    const angle = (degrees * Math.PI) / 180;
    const x = radius * Math.cos(angle);
    return [ARROW.x + (clockwise ? x : -x), ARROW.y + radius * Math.sin(angle)];
  };
  const point = (degrees: number, radius: number) =>
    on(degrees, radius)
      .map((each) => each.toFixed(1))
      .join(" ");
  const { radius, from, to } = ARROW;
  const sweep = clockwise ? "1" : "0";
  return (
    <g fill="var(--below)">
      <path
        d={`M${point(from, radius)} A${String(radius)} ${String(radius)} 0 1 ${sweep} ${point(to, radius)}`}
        fill="none"
        stroke="var(--below)"
        strokeWidth={7}
      />
      <path d={`M${point(to - 4, radius + 15)} L${point(to - 4, radius - 15)} L${point(to + 26, radius + 1)} z`} />
    </g>
  );
}

/** The head seen from its end, with the turn as an arrow around it. */
function HeadEndOn({ step, peg }: { step: Step; peg: boolean }) {
  const clockwise = step.rotation === "clockwise";
  return (
    <figcaption className="flex flex-col items-center">
      <svg viewBox="0 0 130 122" className="h-32 w-auto" aria-hidden>
        {peg ? (
          <ellipse cx={65} cy={62} rx={13} ry={30} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
        ) : (
          <g fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2}>
            <circle cx={65} cy={62} r={24} />
            <line x1={43} x2={87} y1={62} y2={62} strokeWidth={4} />
          </g>
        )}
        <TurningArrow clockwise={clockwise} />
      </svg>
      <span className="text-center leading-tight">
        <b>{step.rotation}</b>
        <br />
        <span className="text-sm text-pencil">facing {peg ? "the peg's end" : "the fine tuner"}</span>
      </span>
    </figcaption>
  );
}
