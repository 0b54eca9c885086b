/** Someone with the instrument, as small as it needs to be told apart. */
export function Held({ kind }: { kind: "violin" | "viola" | "cello" }) {
  const cello = kind === "cello";
  const large = kind === "viola" ? 1.25 : 1;
  return (
    <svg viewBox="0 0 120 110" className="h-28 w-auto" aria-hidden>
      <circle cx={52} cy={22} r={12} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.5} />
      <path
        d={cello ? "M52 34 V70 M52 70 L34 76 V104 M52 70 L72 76 V104" : "M52 34 V76 L44 106 M52 76 L60 106"}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={3}
      />
      {cello ? (
        <g transform="translate(58 40) rotate(8)" stroke="var(--ink)" strokeWidth={2} fill="var(--below)">
          <rect x={-2} y={-26} width={4} height={36} />
          <path d="M0 8 c14 0 15 12 8 18 c9 6 8 24 -8 24 c-16 0 -17 -18 -8 -24 c-7 -6 -6 -18 8 -18z" />
          <line x1={0} x2={0} y1={50} y2={64} strokeWidth={3} />
        </g>
      ) : (
        <g
          transform={`translate(62 36) rotate(-68) scale(${String(large)})`}
          stroke="var(--ink)"
          strokeWidth={2}
          fill="var(--below)"
        >
          <path d="M0 0 c8 0 9 7 5 11 c6 4 5 15 -5 15 c-10 0 -11 -11 -5 -15 c-4 -4 -3 -11 5 -11z" />
          <rect x={-1.5} y={24} width={3} height={22} />
        </g>
      )}
    </svg>
  );
}

/** A ruler from the nut to the bridge. */
export function RulerOnString() {
  return (
    <svg
      viewBox="0 0 420 97"
      className="h-24 w-full max-w-xl"
      role="img"
      aria-label="A ruler laid from the nut to the bridge"
    >
      <rect x={10} y={44} width={250} height={22} fill="var(--rule)" stroke="var(--ink)" strokeWidth={2} />
      <rect x={34} y={38} width={6} height={34} fill="var(--ink)" />
      <path d="M362 76 L352 32 h26 L368 76z" fill="var(--paper)" stroke="var(--ink)" strokeWidth={2.5} />
      <line x1={10} x2={410} y1={36} y2={32} stroke="var(--ink)" strokeWidth={2.5} />
      <g stroke="var(--below)" strokeWidth={3} fill="none">
        <line x1={38} x2={364} y1={16} y2={16} />
        <path d="M46 10 L38 16 L46 22 M356 10 L364 16 L356 22" />
      </g>
      <text x={38} y={88} fontSize={15} fill="var(--ink)" textAnchor="middle">
        nut
      </text>
      <text x={365} y={90} fontSize={15} fill="var(--ink)" textAnchor="middle">
        bridge
      </text>
    </svg>
  );
}

/** The bridge from the side: how it stands. */
export function BridgeStands({ how }: { how: "stands" | "leans" | "moved" | "fallen" }) {
  const turn = { stands: 0, leans: 14, moved: 0, fallen: 84 }[how];
  return (
    <svg viewBox="0 0 120 80" className="h-20 w-auto" aria-hidden>
      <line x1={4} x2={116} y1={66} y2={66} stroke="var(--ink)" strokeWidth={5} />
      {how !== "fallen" && <line x1={4} x2={116} y1={24} y2={16} stroke="var(--ink)" strokeWidth={2} />}
      <g transform={`rotate(${String(-turn)} 66 64)`}>
        <path
          d="M58 64 L62 20 h6 L74 64z"
          fill="var(--below)"
          stroke="var(--ink)"
          strokeWidth={2.5}
          transform={how === "moved" ? "translate(16 0) skewX(-6)" : undefined}
        />
      </g>
      {how === "moved" && (
        <path d="M80 24 l-6 12 l7 8 l-8 14" fill="none" stroke="var(--above)" strokeWidth={3} />
      )}
    </svg>
  );
}
