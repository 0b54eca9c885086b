import type { ReactNode } from "react";

interface SheetProps {
  /** What it shows, for those who listen. */
  said: string;
  box: string;
  children: ReactNode;
}

/** A line drawing in ink. */
function Sheet({ said, box, children }: SheetProps) {
  return (
    <svg
      viewBox={box}
      role="img"
      aria-label={said}
      className="h-auto w-full max-w-md"
      fill="none"
      stroke="var(--ink)"
      strokeWidth={2}
      strokeLinejoin="round"
      strokeLinecap="round"
    >
      {children}
    </svg>
  );
}

interface NoteProps {
  x: number;
  y: number;
  bold?: boolean;
  end?: boolean;
  children: string;
}

function Note({ x, y, bold = false, end = false, children }: NoteProps) {
  return (
    <text
      x={x}
      y={y}
      fill="var(--ink)"
      stroke="none"
      fontSize={13}
      fontWeight={bold ? 700 : 400}
      textAnchor={end ? "end" : "start"}
    >
      {children}
    </text>
  );
}

function Arrow({ d, tip }: { d: string; tip: string }) {
  return (
    <g stroke="var(--below)" strokeWidth={3}>
      <path d={d} />
      <path d={tip} fill="var(--below)" />
    </g>
  );
}

/** The way of a string, from the scroll to the tailpiece. */
export function WayOfAString() {
  return (
    <Sheet
      said="A violin from the front: scroll, pegbox with four pegs, nut, fingerboard, bridge, tailpiece with fine tuners"
      box="0 0 360 330"
    >
      <circle cx={120} cy={22} r={12} />
      <circle cx={120} cy={22} r={5} />
      <path d="M110 33 V86 H130 V33" />
      {[44, 54, 66, 76].map((y, place) => (
        <path
          key={y}
          d={place % 2 === 0 ? `M110 ${y} H90 M90 ${y - 5} v10` : `M130 ${y} H150 M150 ${y - 5} v10`}
        />
      ))}
      <path d="M108 88 H132" strokeWidth={4} />
      <path d="M110 90 L106 210 H134 L130 90" fill="var(--lit)" />
      <path d="M104 116 C70 116 66 150 78 168 C92 186 92 196 80 206 C54 226 56 300 120 306 C184 300 186 226 160 206 C148 196 148 186 162 168 C174 150 170 116 136 116" />
      <path d="M98 240 L102 228 H138 L142 240" strokeWidth={3} />
      <path d="M106 262 H134 L128 302 H112 z" fill="var(--lit)" />
      {[113, 118, 123, 128].map((x) => (
        <g key={x}>
          <path d={`M${x} 88 V264`} strokeWidth={1} />
          <circle cx={x} cy={270} r={2} fill="var(--ink)" stroke="none" />
        </g>
      ))}
      <g strokeWidth={1} stroke="var(--pencil)">
        <path d="M134 22 H205 M152 60 H205 M134 88 L205 92 M136 150 H205 M144 236 H205 M132 270 H205 M126 292 H205" />
      </g>
      <Note x={210} y={26}>
        scroll
      </Note>
      <Note x={210} y={64}>
        pegs in the pegbox
      </Note>
      <Note x={210} y={97}>
        nut: strings leave here
      </Note>
      <Note x={210} y={154}>
        fingerboard
      </Note>
      <Note x={210} y={240}>
        bridge: stands by itself
      </Note>
      <Note x={210} y={274}>
        fine tuners (screws)
      </Note>
      <Note x={210} y={296}>
        tailpiece
      </Note>
    </Sheet>
  );
}

/** A fine tuner from the side: the screw presses a lever, the lever pulls the string. */
export function FineTunerLever() {
  return (
    <Sheet
      said="A fine tuner from the side: turned clockwise the screw goes in, presses the lever, and the lever pulls the string tighter"
      box="0 0 360 170"
    >
      <path d="M60 96 H300" stroke="var(--rule)" strokeWidth={6} />
      <Note x={64} y={122}>
        tailpiece
      </Note>
      <path d="M186 40 V104" strokeWidth={6} />
      <path d="M170 38 H202" strokeWidth={8} />
      <path d="M186 104 L150 136 L146 84" strokeWidth={4} />
      <circle cx={150} cy={110} r={5} fill="var(--sheet)" />
      <path d="M146 82 C120 76 60 70 10 66" />
      <Arrow d="M208 22 a26 12 0 1 0 -44 0" tip="M208 22 l-11 1 l9 -10 z" />
      <Arrow d="M232 52 V86" tip="M232 92 l-6 -11 h12 z" />
      <Arrow d="M96 60 L126 66" tip="M134 68 l-13 3 l3 -12 z" />
      <Note x={248} y={60} bold>
        screw in
      </Note>
      <Note x={248} y={78}>
        clockwise: higher
      </Note>
      <Note x={10} y={48}>
        the lever pulls the string
      </Note>
      <Note x={96} y={160}>
        Turned out, it lets the string go: lower.
      </Note>
    </Sheet>
  );
}

/** A peg from above: tapered, it holds by being pushed in. */
export function TaperedPeg() {
  return (
    <Sheet
      said="A peg through the two walls of the pegbox: it is thinner at its end, so it holds when it is pushed in while it turns"
      box="0 0 360 176"
    >
      <path d="M70 24 V140 M230 24 V140" stroke="var(--rule)" strokeWidth={14} />
      <path d="M40 76 L262 66 V100 L40 90 z" fill="var(--lit)" />
      <path d="M262 64 C284 46 322 46 326 83 C322 120 284 120 262 102 z" fill="var(--sheet)" />
      <path d="M140 71 c8 6 8 19 0 25 M149 71 c8 6 8 19 0 25 M158 70 c8 6 8 20 0 26" />
      <Arrow d="M358 83 H342" tip="M333 83 l12 -6 v12 z" />
      <Arrow d="M304 40 a60 40 0 0 1 30 22" tip="M338 68 l-10 -8 l12 -4 z" />
      <Note x={84} y={42}>
        walls of the pegbox
      </Note>
      <Note x={86} y={122}>
        the string winds here
      </Note>
      <Note x={356} y={168} bold end>
        push in while turning
      </Note>
      <Note x={4} y={168}>
        Not pushed in, it springs back.
      </Note>
    </Sheet>
  );
}

/** Which way a peg raises its string: the string leaves the pin on the side away from the scroll's back. */
export function Winding() {
  return (
    <Sheet
      said="Two pegs end-on. As usual the string comes off the top: turning the top away from the nut raises it. Wound the other way, everything is the other way round"
      box="0 0 360 160"
    >
      <circle cx={80} cy={80} r={30} />
      <path d="M80 50 H10" strokeWidth={3} />
      <Arrow d="M66 40 a42 42 0 0 1 52 22" tip="M121 68 l-10 -7 l11 -6 z" />
      <Note x={30} y={136} bold>
        as usual: over the top
      </Note>
      <Note x={2} y={40}>
        to the nut
      </Note>
      <circle cx={260} cy={80} r={30} />
      <path d="M260 110 H190" strokeWidth={3} />
      <Arrow d="M276 122 a42 42 0 0 0 22 -56" tip="M297 60 l-5 11 l12 -2 z" />
      <Note x={206} y={148} bold>
        wound the other way
      </Note>
    </Sheet>
  );
}

/** Bridge and soundpost from the side. */
export function BridgeAndPost() {
  return (
    <Sheet
      said="The bridge from the side: its back stands upright, the top leans with the strings when pegs are turned; inside stands the soundpost"
      box="0 0 360 180"
    >
      <path d="M20 120 C110 100 250 100 340 120" />
      <path d="M20 164 C110 172 250 172 340 164" />
      <path d="M170 107 L176 50 H182 L186 106 z" fill="var(--lit)" />
      <path d="M10 62 L179 50 L350 84" />
      <path d="M206 108 V169" strokeWidth={6} stroke="var(--pencil)" />
      <g strokeDasharray="4 4" stroke="var(--above)">
        <path d="M170 107 L158 52 H164 L186 106" />
      </g>
      <Arrow d="M152 44 H128" tip="M120 44 l12 -6 v12 z" />
      <Note x={196} y={46} bold>
        upright: its back is square
      </Note>
      <Note x={10} y={16}>
        turning pegs up
      </Note>
      <Note x={10} y={32}>
        pulls its top this way
      </Note>
      <Note x={216} y={146}>
        soundpost, inside
      </Note>
    </Sheet>
  );
}

/** What a tuner's display says. */
export function TunersDisplay() {
  return (
    <Sheet
      said="A tuner's display says a letter, an octave number and cents: A4 minus 12 is 12 hundredths of a half-step under A4"
      box="0 0 360 130"
    >
      <rect x={30} y={14} width={140} height={84} rx={10} fill="var(--paper)" />
      <text x={56} y={74} fontSize={48} fontWeight={700} fill="var(--ink)" stroke="none">
        A
      </text>
      <text x={94} y={82} fontSize={22} fill="var(--ink)" stroke="none">
        4
      </text>
      <text x={116} y={52} fontSize={22} fontWeight={700} fill="var(--below)" stroke="none">
        −12
      </text>
      <g strokeWidth={1} stroke="var(--pencil)">
        <path d="M68 100 V114 H186 M104 86 L186 84 M158 46 H186" />
      </g>
      <Note x={190} y={50}>
        cents: 12 too low
      </Note>
      <Note x={190} y={88}>
        octave: the A in the middle
      </Note>
      <Note x={190} y={119}>
        letter: which note
      </Note>
    </Sheet>
  );
}

const LETTERS = ["C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B"];

/** The musical alphabet as it passes by while a string is turned up. */
export function Alphabet() {
  return (
    <Sheet
      said="The letters in the order they pass by while a string is turned up: C, C sharp, D, D sharp, E, F, F sharp, G, G sharp, A, A sharp, B, then C of the next octave number"
      box="0 0 360 110"
    >
      {LETTERS.map((letter, place) => (
        <g key={letter}>
          <rect
            x={4 + place * 27}
            y={24}
            width={27}
            height={letter.length > 1 ? 30 : 42}
            fill={letter.length > 1 ? "var(--lit)" : "var(--sheet)"}
            strokeWidth={1.5}
          />
          <text
            x={17 + place * 27}
            y={44}
            fontSize={12}
            fontWeight={700}
            textAnchor="middle"
            fill="var(--ink)"
            stroke="none"
          >
            {letter}
          </text>
        </g>
      ))}
      <Note x={4} y={16}>
        C4
      </Note>
      <Note x={330} y={46}>
        C5
      </Note>
      <Arrow d="M8 84 H200" tip="M208 84 l-12 -6 v12 z" />
      <Note x={216} y={88}>
        up: one box is 100 cents
      </Note>
    </Sheet>
  );
}
