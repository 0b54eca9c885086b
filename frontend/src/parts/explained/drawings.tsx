import type { ReactNode } from "react";

import { Turnable } from "./Turnable";

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
        <path key={y} d={place % 2 === 0 ? `M110 ${y} H90 M90 ${y - 5} v10` : `M130 ${y} H150 M150 ${y - 5} v10`} />
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
    <Turnable label="Turn the fine tuner">
      {(turned) => (
        <Sheet
          said="A fine tuner from the side: turned clockwise the screw goes in, presses the lever, and the lever pulls the string tighter"
          box="0 0 360 172"
        >
          <g transform={`rotate(${String(7 * turned)} 176 124)`}>
            <path d="M232 132 L176 126 L166 74" strokeWidth={5} />
            <circle cx={166} cy={70} r={5} fill="var(--ink)" />
          </g>
          <path d={`M${String(160 + 7 * turned)} ${String(70 + turned)} L8 58`} strokeWidth={turned > 0 ? 2.5 : 2} />
          <circle cx={84 + 7 * turned} cy={64} r={3} fill="var(--below)" stroke="none" />
          <path d="M60 96 C140 86 250 86 336 98 L336 110 C250 100 140 100 60 108 z" fill="var(--lit)" strokeWidth={1.5} />
          <path d="M158 88 v14 M186 88 v14" stroke="var(--sheet)" strokeWidth={5} />
          <circle cx={176} cy={124} r={4} fill="var(--sheet)" />
          <g transform={`translate(0 ${String(7 * turned)})`}>
            <path d="M220 48 V126" strokeWidth={7} />
            <path d="M216 112 h8 M216 104 h8 M216 84 h8 M216 76 h8 M216 68 h8 M216 60 h8" stroke="var(--sheet)" />
            <rect x={198} y={30} width={44} height={18} rx={4} fill="var(--lit)" />
            <path d={KNURLS.map((at) => `M${String(198 + around(at - 22 * turned, 44))} 33 v12`).join(" ")} />
          </g>
          <Arrow
            d={turned < 0 ? "M244 20 a26 9 0 0 0 -48 0" : "M196 20 a26 9 0 0 1 48 0"}
            tip={turned < 0 ? "M194 22 l12 -1 l-8 -9 z" : "M246 22 l-12 -1 l8 -9 z"}
          />
          <Note x={256} y={36} bold>
            {turned < 0 ? "out: lower" : "in: higher"}
          </Note>
          <Note x={256} y={54}>
            {turned < 0 ? "counter-clockwise" : "clockwise"}
          </Note>
          <Note x={8} y={44}>
            to the bridge
          </Note>
          <Note x={8} y={130}>
            tailpiece
          </Note>
          <Note x={100} y={164}>
            a lever: its top moves with the string
          </Note>
        </Sheet>
      )}
    </Turnable>
  );
}

/** A peg from above: tapered, it holds by being pushed in. */
export function TaperedPeg() {
  return (
    <Turnable label="Turn the peg">
      {(turned) => (
        <Sheet
          said="A peg through the two walls of the pegbox: it is thinner at its end, so it holds when it is pushed in while it turns"
          box="0 0 360 176"
        >
          <g transform={`translate(${String(-6 * Math.max(0, turned))} 0)`}>
            <path d="M40 76 L262 66 V100 L40 90 z" fill="var(--lit)" />
            <path d="M262 64 C284 46 322 46 326 83 C322 120 284 120 262 102 z" fill="var(--sheet)" />
            <path d={`M266 83 q30 ${String(30 * Math.sin(1.2 * turned))} 56 0`} strokeWidth={1.5} stroke="var(--pencil)" />
          </g>
          <path d="M70 24 V140 M230 24 V140" stroke="var(--rule)" strokeWidth={14} />
          <path d={TURNS_ON.map((at) => `M${String(136 + 9 * at - 4 * turned)} 71 c8 6 8 19 0 25`).join(" ")} />
          <path d={`M${String(136 + 9 * 2 - 4 * turned)} 96 L${String(150 - 4 * turned)} 158`} />
          <circle cx={152 - 4 * turned} cy={132 - 12 * turned} r={3} fill="var(--below)" stroke="none" />
          <Arrow d="M358 83 H342" tip="M333 83 l12 -6 v12 z" />
          <Note x={84} y={42}>
            walls of the pegbox
          </Note>
          <Note x={246} y={136} bold>
            {turned < 0 ? "off: lower" : "on: higher"}
          </Note>
          <Note x={356} y={168} bold end>
            push in while turning up
          </Note>
          <Note x={4} y={168}>
            else it springs back
          </Note>
        </Sheet>
      )}
    </Turnable>
  );
}

/** Which way a peg raises its string: the string leaves the pin on the side away from the scroll's back. */
export function Winding() {
  return (
    <Turnable label="Turn both pegs the same way">
      {(turned) => (
        <Sheet
          said="Two pegs end-on. As usual the string comes off the top: turning the top away from the nut raises it. Wound the other way, everything is the other way round"
          box="0 0 360 160"
        >
          <EndOn x={90} y={76} over turned={turned} />
          <EndOn x={270} y={76} over={false} turned={turned} />
          <Note x={2} y={34}>
            to the nut
          </Note>
          <Note x={30} y={132} bold>
            over the top: as usual
          </Note>
          <Note x={30} y={150}>
            {turned < 0 ? "lower" : "higher"}
          </Note>
          <Note x={206} y={132} bold>
            from below: wrongly
          </Note>
          <Note x={206} y={150}>
            {turned < 0 ? "higher" : "lower"}
          </Note>
        </Sheet>
      )}
    </Turnable>
  );
}

const KNURLS = [0, 8.8, 17.6, 26.4, 35.2];
const TURNS_ON = [0, 1, 2];

function around(at: number, width: number): number {
  return ((at % width) + width) % width;
}

/** A peg seen from its end, with a mark on it and one on its string. */
function EndOn({ x, y, over, turned }: { x: number; y: number; over: boolean; turned: number }) {
  const at = over ? y - 30 : y + 30;
  const drawn = (over ? 1 : -1) * 24 * turned;
  return (
    <>
      <path d={`M${String(x)} ${String(at)} H${String(x - 76)}`} strokeWidth={3} />
      <circle cx={x - 46 + drawn} cy={at} r={4} fill="var(--below)" stroke="none" />
      <circle cx={x} cy={y} r={30} fill="var(--lit)" />
      <g transform={`rotate(${String(50 * turned)} ${String(x)} ${String(y)})`}>
        <path d={`M${String(x)} ${String(y)} V${String(y - 26)}`} strokeWidth={4} />
      </g>
      <Arrow
        d={
          turned < 0
            ? `M${String(x + 30)} ${String(y - 28)} a42 42 0 0 0 -44 -10`
            : `M${String(x - 14)} ${String(y - 40)} a42 42 0 0 1 50 18`
        }
        tip={
          turned < 0
            ? `M${String(x - 20)} ${String(y - 36)} l12 -6 l-1 11 z`
            : `M${String(x + 39)} ${String(y - 16)} l-10 -7 l11 -6 z`
        }
      />
    </>
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
          <text x={17 + place * 27} y={44} fontSize={12} fontWeight={700} textAnchor="middle" fill="var(--ink)" stroke="none">
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
