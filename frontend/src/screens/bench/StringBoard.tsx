import type { FifthBench, StringBench } from "../../api/client";
import type { Look } from "../../sound/socket";
import { BOARD_HEIGHT, heightOf, REST_Y, strandX } from "../../parts/board/boardScale";
import { FifthSpan } from "./FifthSpan";
import { ScrewGauge } from "./ScrewGauge";
import { Strand } from "./Strand";
import type { Waits } from "./waits";
import { countOf } from "../../parts/figures";
import { useWidth } from "../../parts/useWidth";

interface StringBoardProps {
  strings: StringBench[];
  fifths: FifthBench[];
  waits: Record<string, Waits>;
  current: string;
  live: Look | null;
  onChoose: (name: string) => void;
}

/** Four strands as the person sees them, one rest line, a weight on each, and the fifths between. */
export function StringBoard({ strings, fifths, waits, current, live, onChoose }: StringBoardProps) {
  const { ref, width } = useWidth<HTMLDivElement>(720);
  const narrow = width / strings.length < 150;
  const columns = { gridTemplateColumns: `repeat(${String(strings.length)}, minmax(0, 1fr))` };
  const at = (name: string) =>
    strandX(
      strings.findIndex((each) => each.name === name),
      strings.length,
      width,
    );
  return (
    <section aria-label="String board" className="rounded-lg border border-rule bg-sheet">
      <div className="hidden lg:grid" style={columns}>
        {strings.map((each) => (
          <StringHead key={each.name} string={each} current={each.name === current} onChoose={onChoose} />
        ))}
      </div>
      <div ref={ref} className="overflow-hidden">
        <svg width={width} height={BOARD_HEIGHT} role="img" aria-label={inWords(strings)} className="block">
          <CurrentColumn at={at(current)} width={width / strings.length} />
          <line x1={0} x2={width} y1={REST_Y} y2={REST_Y} stroke="var(--ink)" strokeWidth={2.5} />
          {strings.map((each) => (
            <Strand
              key={each.name}
              string={each}
              waits={waits[each.name]}
              x={at(each.name)}
              current={each.name === current}
              narrow={narrow}
              last={each.name === strings.at(-1)?.name}
            />
          ))}
          {live?.string != null && live.string_cents != null && (
            <LiveMark x={at(live.string)} cents={live.string_cents} steady={live.hears === "steady"} />
          )}
          <g className="lg:hidden print:inline" fontSize={22} fontWeight={700} textAnchor="middle" fill="var(--ink)">
            {strings.map((each) => (
              <text key={each.name} x={at(each.name) - (narrow ? 26 : 34)} y={26}>
                {each.name}
              </text>
            ))}
          </g>
          {fifths.map((fifth) => (
            <FifthSpan
              key={fifth.lower}
              fifth={fifth}
              from={Math.min(at(fifth.lower), at(fifth.upper))}
              to={Math.max(at(fifth.lower), at(fifth.upper))}
              narrow={narrow}
            />
          ))}
        </svg>
      </div>
      <div className="grid border-t border-rule" style={columns}>
        {strings.map((each) => (
          <ScrewGauge key={each.name} string={each} />
        ))}
      </div>
    </section>
  );
}

function CurrentColumn({ at, width }: { at: number; width: number }) {
  return <rect x={at - width / 2} y={0} width={width} height={BOARD_HEIGHT} fill="var(--lit)" opacity={0.6} />;
}

/** Where the string that sounds now stands, before it is kept. */
function LiveMark({ x, cents, steady }: { x: number; cents: number; steady: boolean }) {
  const y = REST_Y + heightOf(cents);
  return (
    <g opacity={steady ? 1 : 0.5} stroke="var(--ink)" strokeWidth={3} fill="var(--sheet)">
      <line x1={x - 34} x2={x + 34} y1={y} y2={y} />
      <circle cx={x} cy={y} r={8} />
    </g>
  );
}

interface StringHeadProps {
  string: StringBench;
  current: boolean;
  onChoose: (name: string) => void;
}

function StringHead({ string, current, onChoose }: StringHeadProps) {
  const right = string.tuner_shows_cents;
  const shows = right === 0 ? "0" : `${right < 0 ? "−" : "+"}${Math.abs(right).toFixed(1)}`;
  return (
    <button
      type="button"
      aria-pressed={current}
      aria-label={`${string.name} string, ${string.words}`}
      onClick={() => {
        onChoose(string.name);
      }}
      className={`flex min-h-14 flex-col items-center border-b-4 px-1 pt-1 pb-1 ${current ? "border-ink bg-lit" : "border-transparent hover:bg-lit/50"}`}
    >
      <span className="text-3xl leading-none font-bold">{string.name}</span>
      <span className="text-sm whitespace-nowrap text-pencil">
        {string.target_note} <span className="hidden sm:inline">· {string.target_hz.toFixed(2)} Hz</span>
      </span>
      {right !== 0 && <span className="text-sm text-pencil">right at {shows}</span>}
    </button>
  );
}

/** The whole board in one sentence, for those who listen to the page. */
function inWords(strings: StringBench[]): string {
  return strings
    .map((each) => {
      const off = Math.round(Math.abs(each.advice?.cents_off ?? 0));
      return `${each.name}: ${off === 0 ? "" : `${countOf(off, "cent")}, `}${each.words}`;
    })
    .join("; ");
}
