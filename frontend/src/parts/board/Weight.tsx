interface WeightProps {
  x: number;
  y: number;
  /** Hangs below the line, floats above it, or sits on it. */
  side: "below" | "above" | "on";
  /** How far the reading wandered, in cents; the weight blurs with it. */
  spread: number;
  voice: string;
}

/** A weight on a strand. Its shape says the side without colour: it widens downwards below, upwards above. */
export function Weight({ x, y, side, spread, voice }: WeightProps) {
  const blur = Math.min(6, spread * 1.5);
  const shape = { below: `M-11 -14 h22 l9 28 h-40 z`, above: `M-20 -14 h40 l-9 28 h-22 z`, on: `M-22 -20 h44 v18 h-44 z` }[
    side
  ];
  return (
    <g
      transform={`translate(${String(x)} ${String(y)})`}
      style={blur > 0.4 ? { filter: `blur(${String(blur)}px)` } : undefined}
    >
      <path d={shape} fill={voice} stroke="var(--sheet)" strokeWidth={2} strokeLinejoin="round" />
      {side === "on" && (
        <path d="M-9 -11 l6 6 l12 -12" fill="none" stroke="var(--sheet)" strokeWidth={3} transform="translate(0 -0.5)" />
      )}
    </g>
  );
}
