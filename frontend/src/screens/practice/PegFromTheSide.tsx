import type { Hands } from "../../api/practice";

interface PegFromTheSideProps {
  peg: NonNullable<Hands["peg"]>;
  /** In all, in degrees clockwise: where its head stands now. */
  pushed: boolean;
}

/** The peg that was turned, from the side: its shaft in the holes, the string wound on it, and how far it stayed. */
export function PegFromTheSide({ peg, pushed }: PegFromTheSideProps) {
  return (
    <figure
      className="flex flex-wrap items-center gap-4 rounded-lg border border-rule bg-sheet px-4 py-2"
      aria-label={`The ${peg.string} peg from the side`}
    >
      <svg viewBox="0 0 220 120" className="h-28 w-auto shrink-0" aria-hidden>
        <g fill="var(--rule)" stroke="var(--ink)" strokeWidth={2}>
          <path d="M96 8 h16 v104 h-16z M176 8 h16 v104 h-16z" />
        </g>
        <g className="transition-transform" style={{ transform: `translateX(${pushed ? "6px" : "0"})` }}>
          <path d="M60 50 L206 54 V66 L60 70z" fill="var(--below)" stroke="var(--ink)" strokeWidth={2} />
          <Head turned={peg.turned} stayed={peg.stayed} />
          <path d="M146 52 q6 8 0 16 M152 52 q6 8 0 16 M158 53 q5 7 0 14" fill="none" stroke="var(--ink)" strokeWidth={3} />
        </g>
        <path d="M160 66 V118" stroke="var(--ink)" strokeWidth={3} />
        {pushed && <path d="M2 60 h14 m-6 -6 l7 6 l-7 6" fill="none" stroke="var(--ink)" strokeWidth={3} />}
      </svg>
      <figcaption className="min-w-48 flex-1">
        <b className="block text-lg">{peg.said}</b>
        Turned {degrees(peg.turned)}, stayed {degrees(peg.stayed)}
        {pushed ? "" : "; it wasn’t pushed in"}.
      </figcaption>
    </figure>
  );
}

/** Seen from its end: the thin hand is where it was turned to, the thick one where it stayed. */
function Head({ turned, stayed }: { turned: number; stayed: number }) {
  return (
    <g transform="translate(40 60)">
      <circle r={26} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
      <line y2={-22} stroke="var(--rule)" strokeWidth={3} />
      <line y2={-22} stroke="var(--ink)" strokeWidth={2} strokeDasharray="4 3" transform={`rotate(${String(seen(turned))})`} />
      <line y2={-22} stroke="var(--ink)" strokeWidth={5} strokeLinecap="round" transform={`rotate(${String(seen(stayed))})`} />
    </g>
  );
}

/** A degree is hardly seen: drawn four times as far. */
function seen(angle: number): number {
  return Math.max(-170, Math.min(170, 4 * angle));
}

function degrees(angle: number): string {
  return `${Math.abs(angle).toFixed(0)}°`;
}
