/** Half of a body from its top to its end, in thousandths of its length, to the right of its middle. */
const BODY =
  "M0 0 C110 0 236 40 236 184 C236 262 214 318 206 346 L190 356 C150 420 150 540 208 616 L226 630 C262 684 290 736 290 796 C290 940 150 1000 0 1000";
/** Each one's body, neck and all, and endpin, in millimetres. */
const MEASURES = {
  violin: { body: 356, whole: 595, endpin: 0 },
  viola: { body: 412, whole: 685, endpin: 0 },
  cello: { body: 755, whole: 1215, endpin: 190 },
};
const TALLEST = MEASURES.cello.whole + MEASURES.cello.endpin;

/** A violin, a viola, a cello: seen from the front, all to one scale, so that side by side they are told apart. */
export function InstrumentDrawn({ kind }: { kind: keyof typeof MEASURES }) {
  const { body, whole, endpin } = MEASURES[kind];
  const scale = body / 1000;
  const neck = (whole - body) / scale;
  return (
    <svg viewBox={`-230 0 460 ${String(TALLEST)}`} className="h-64 w-auto sm:h-80" aria-hidden>
      <g
        transform={`translate(0 ${String(TALLEST - endpin - body)}) scale(${String(scale)})`}
        stroke="var(--ink)"
        strokeWidth={14 / scale / 2.4}
        strokeLinejoin="round"
      >
        {[1, -1].map((side) => (
          <path key={side} d={BODY} transform={`scale(${String(side)} 1)`} fill="var(--rule)" />
        ))}
        <path d={`M-26 ${String(-neck + 150)} L-46 340 H46 L26 ${String(-neck + 150)}z`} fill="var(--ink)" />
        <path d={`M-24 ${String(-neck + 150)} V${String(-neck + 60)} H24 V${String(-neck + 150)}z`} fill="var(--rule)" />
        <circle cx={0} cy={-neck + 40} r={40} fill="var(--rule)" />
        {[95, 125].map((down) => (
          <path key={down} d={`M-70 ${String(-neck + down)} H70`} fill="none" />
        ))}
        <path d="M-74 560 H74" strokeWidth={26} />
        <path d="M-62 690 H62 L34 960 H-34z" fill="var(--ink)" />
        {[-28, -10, 10, 28].map((x) => (
          <path
            key={x}
            d={`M${String(x / 2)} ${String(-neck + 150)} L${String(x * 1.8)} 560 L${String(x * 1.4)} 690`}
            fill="none"
            strokeWidth={5}
            stroke="var(--pencil)"
          />
        ))}
        {[1, -1].map((side) => (
          <path
            key={side}
            d="M118 470 c-26 20 -10 70 6 92 c18 26 26 66 2 88"
            transform={`scale(${String(side)} 1)`}
            fill="none"
          />
        ))}
        {endpin > 0 && <path d={`M0 1000 V${String(1000 + endpin / scale)}`} strokeWidth={22} />}
      </g>
    </svg>
  );
}

/** The tailpiece with its strings, and a screw at none, at the thinnest, or at every one. */
export function TailpieceDrawn({ strings, screws }: { strings: number; screws: "none" | "one" | "all" }) {
  return (
    <svg viewBox="0 0 130 110" className="h-24 w-auto" aria-hidden>
      <path d="M14 26 H116 L84 100 q-19 8 -38 0z" fill="var(--rule)" stroke="var(--ink)" strokeWidth={2.5} />
      {Array.from({ length: strings }, (_, place) => {
        const x = 29 + (72 * place) / (strings - 1);
        const fitted = screws === "all" || (screws === "one" && place === strings - 1);
        return (
          <g key={place} stroke="var(--ink)">
            <line x1={x} x2={x} y1={0} y2={42} strokeWidth={4 - (3 * place) / (strings - 1)} />
            {fitted ? (
              <>
                <circle cx={x} cy={48} r={9.5} fill="var(--sheet)" strokeWidth={2.5} />
                <line x1={x - 6} x2={x + 6} y1={48} y2={48} strokeWidth={2.5} />
              </>
            ) : (
              <circle cx={x} cy={44} r={3.5} fill="var(--ink)" />
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** A peg in its box, seen from the front. */
export function PegDrawn() {
  return (
    <svg viewBox="0 0 150 90" className="h-24 w-auto shrink-0" aria-hidden stroke="var(--ink)" strokeWidth={2.5}>
      <path d="M92 4 V86 H132 V4" fill="var(--rule)" />
      <path d="M44 40 L138 36 V54 L44 50z" fill="var(--below)" />
      <ellipse cx={28} cy={45} rx={20} ry={27} fill="var(--below)" />
      <path d="M112 54 V86" strokeWidth={3} />
    </svg>
  );
}

/** A ruler from the nut to the bridge. */
export function RulerOnString() {
  return (
    <svg viewBox="0 0 420 97" className="h-24 w-full max-w-xl" role="img" aria-label="A ruler laid from the nut to the bridge">
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
    <svg viewBox="0 0 120 80" className="h-24 w-auto" aria-hidden>
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
      {how === "moved" && <path d="M80 24 l-6 12 l7 8 l-8 14" fill="none" stroke="var(--above)" strokeWidth={3} />}
    </svg>
  );
}
