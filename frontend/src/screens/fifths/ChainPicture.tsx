import type { ChainLink, ChainString, Fifths } from "../../api/fifths";
import { signed } from "../../parts/figures";
import { useWidth } from "../../parts/useWidth";
import { heightAt, PICTURE_HEIGHT, rangeOf, TARGET_Y } from "./chainScale";

interface ChainPictureProps {
  fifths: Fifths;
  chosen: string;
}

/**
 * The chain to scale: each string hangs at its distance from its target, and a bar joins neighbours. A level bar is a right
 * fifth; it rises to the right when the fifth is wide and falls when it is narrow.
 */
export function ChainPicture({ fifths, chosen }: ChainPictureProps) {
  const { ref, width } = useWidth<HTMLDivElement>(760);
  const range = rangeOf(fifths);
  const x = (place: number) => (width * (place + 0.5)) / fifths.strings.length;
  const places = new Map(fifths.strings.map((each, place) => [each.name, place]));
  return (
    <div ref={ref} className="w-full overflow-hidden">
      <svg
        width={width}
        height={PICTURE_HEIGHT}
        role="img"
        aria-label={fifths.links.map((each) => `${each.lower}–${each.upper}: ${each.said}`).join("; ")}
      >
        <line x1={0} x2={width} y1={TARGET_Y} y2={TARGET_Y} stroke="var(--pencil)" strokeDasharray="2 5" strokeWidth={1.5} />
        <Ruler range={range} />
        {fifths.strings.map((each, place) => (
          <Post key={each.name} string={each} x={x(place)} range={range} />
        ))}
        {fifths.links.map((each) => {
          const lower = places.get(each.lower);
          const upper = places.get(each.upper);
          if (lower === undefined || upper === undefined) return null;
          return (
            <Bar
              key={each.lower}
              link={each}
              from={{ x: x(lower), y: endOf(fifths, each.lower, range) }}
              to={{ x: x(upper), y: endOf(fifths, each.upper, range) }}
              range={range}
              chosen={each.lower === chosen}
            />
          );
        })}
      </svg>
    </div>
  );
}

function endOf(fifths: Fifths, name: string, range: number): number | null {
  const off = fifths.strings.find((each) => each.name === name)?.cents_off ?? null;
  return off === null ? null : heightAt(off, range);
}

/** Half the range at the left edge, so that the eye knows what a step is. */
function Ruler({ range }: { range: number }) {
  return (
    <g fontSize={13} fill="var(--pencil)">
      {[range, range / 2, -range / 2, -range].map((cents) => (
        <g key={cents}>
          <line x1={0} x2={6} y1={heightAt(cents, range)} y2={heightAt(cents, range)} stroke="var(--pencil)" />
          <text x={9} y={heightAt(cents, range) + 4}>
            {signed(cents)}
          </text>
        </g>
      ))}
    </g>
  );
}

function Post({ string, x, range }: { string: ChainString; x: number; range: number }) {
  const off = string.cents_off;
  const y = off === null ? TARGET_Y : heightAt(off, range);
  return (
    <g opacity={string.pending ? 0.5 : 1}>
      <line x1={x} x2={x} y1={20} y2={PICTURE_HEIGHT - 46} stroke="var(--rule)" strokeWidth={2} />
      {off !== null && (
        <rect
          x={x - 11}
          y={y - 8}
          width={22}
          height={16}
          rx={3}
          fill={Math.abs(off) > range ? "var(--paper)" : "var(--ink)"}
          stroke="var(--ink)"
          strokeWidth={2}
        />
      )}
      <text x={x} y={PICTURE_HEIGHT - 24} textAnchor="middle" fontSize={22} fontWeight={700} fill="var(--ink)">
        {string.name}
      </text>
      <text x={x} y={PICTURE_HEIGHT - 5} textAnchor="middle" fontSize={15} fill="var(--ink)">
        {string.pending ? "turned" : off === null ? "not heard" : signed(off)}
      </text>
    </g>
  );
}

interface End {
  x: number;
  y: number | null;
}

/** The bar between two neighbours; where only the fifth is known, it tilts around the target. */
function Bar({ link, from, to, range, chosen }: { link: ChainLink; from: End; to: End; range: number; chosen: boolean }) {
  const off = link.from_temperament_cents;
  if (off === null) return null;
  const known = from.y !== null && to.y !== null;
  const y1 = known ? (from.y ?? TARGET_Y) : heightAt(-off / 2, range);
  const y2 = known ? (to.y ?? TARGET_Y) : heightAt(off / 2, range);
  const voice = link.verdict === "right" ? "var(--ink)" : off > 0 ? "var(--above)" : "var(--below)";
  return (
    <line
      x1={from.x + 14}
      x2={to.x - 14}
      y1={y1}
      y2={y2}
      stroke={voice}
      strokeWidth={chosen ? 7 : 4}
      strokeLinecap="round"
      strokeDasharray={link.verdict === "right" ? undefined : off > 0 ? "1 0" : "14 8"}
    />
  );
}
