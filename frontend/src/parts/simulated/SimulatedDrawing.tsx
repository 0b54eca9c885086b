import { useWidth } from "../useWidth";
import { Knob } from "./Knob";

/** What eyes see of an instrument in hand. */
interface InHand {
  strings: { name: string; has_screw: boolean; screw_turns: number; broken: boolean }[];
  bridge: "up" | "fallen";
  bridge_leans: boolean;
}

interface SimulatedDrawingProps {
  seen: InHand;
  /** How far each peg's head was turned here, in degrees clockwise, for the eye. */
  pegAngles: Record<string, number>;
  lit: { string: string; kind: "peg" | "screw" } | null;
  onPeg: (string: string, clockwise: number) => void;
  onScrew: (string: string, clockwise: number) => void;
}

const HEIGHT = 196;
const PEG_Y = 36;
const SCREW_Y = 142;

/** The simulated instrument: each string from its peg above to its fine tuner below; both are there to be turned. */
export function SimulatedDrawing({ seen, pegAngles, lit, onPeg, onScrew }: SimulatedDrawingProps) {
  const { ref, width } = useWidth<HTMLDivElement>(520);
  const x = (place: number) => (width * (place + 0.5)) / seen.strings.length;
  return (
    <div ref={ref} className="w-full overflow-hidden">
      <svg width={width} height={HEIGHT}>
        <line
          x1={x(0) - 20}
          x2={x(seen.strings.length - 1) + 20}
          y1={90}
          y2={seen.bridge === "fallen" ? 108 : seen.bridge_leans ? 95 : 90}
          stroke="var(--ink)"
          strokeWidth={5}
          strokeDasharray={seen.bridge === "fallen" ? "10 8" : undefined}
        />
        {seen.strings.map((each, place) => (
          <g key={each.name}>
            <path
              d={
                each.broken
                  ? `M${String(x(place))} ${String(PEG_Y)} q 14 20 4 34 M${String(x(place))} ${String(SCREW_Y)} q -16 -18 -6 -34`
                  : `M${String(x(place))} ${String(PEG_Y)} V${String(SCREW_Y)}`
              }
              fill="none"
              stroke="var(--ink)"
              strokeWidth={4.5 - place}
              opacity={0.7}
            />
            <Knob
              kind="peg"
              string={each.name}
              x={x(place)}
              y={PEG_Y}
              lit={lit?.string === each.name && lit.kind === "peg"}
              angle={pegAngles[each.name] ?? 0}
              said="friction peg"
              onTurn={(clockwise) => {
                onPeg(each.name, clockwise);
              }}
            />
            {each.has_screw && (
              <Knob
                kind="screw"
                string={each.name}
                x={x(place)}
                y={SCREW_Y}
                lit={lit?.string === each.name && lit.kind === "screw"}
                angle={each.screw_turns * 360}
                said={`${each.screw_turns.toFixed(2)} turns from its middle`}
                onTurn={(clockwise) => {
                  onScrew(each.name, clockwise);
                }}
              />
            )}
            <text x={x(place)} y={HEIGHT - 6} textAnchor="middle" fontSize={17} fontWeight={700} fill="var(--ink)">
              {each.name}
              {each.has_screw ? ` ${screwSaid(each.screw_turns)}` : ""}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}

function screwSaid(turns: number): string {
  if (Math.abs(turns) < 0.05) return "0";
  return `${turns > 0 ? "+" : "−"}${Math.abs(turns).toFixed(1)}`;
}
