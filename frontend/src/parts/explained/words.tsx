import type { ComponentType } from "react";

import { Alphabet, BridgeAndPost, FineTunerLever, TaperedPeg, TunersDisplay, WayOfAString, Winding } from "./drawings";

export type Term = "cent" | "octave" | "peg" | "fine-tuner" | "winding" | "bridge" | "beat" | "pure" | "tempered" | "way";

interface Explained {
  title: string;
  /** One or two sentences for someone who has never turned a peg. */
  short: string;
  more: string;
  drawing: ComponentType | null;
}

/** Words of the trade, in plain ones. */
export const WORDS: Record<Term, Explained> = {
  way: {
    title: "The way of a string",
    short: "Each string runs from its peg over the nut and the bridge to the tailpiece, where a fine tuner may hold it.",
    more: "A string gets higher when it is pulled tighter, and lower when it is let go. There are two places to do that: the peg, for much, and the fine tuner, for little. Follow the string with your eye from the fingerboard to its peg before you turn: a turn of the wrong peg breaks a string that was right.",
    drawing: WayOfAString,
  },
  "fine-tuner": {
    title: "Fine tuner",
    short: "A small screw at the tailpiece. Clockwise, facing it, makes the string higher; counter-clockwise lower.",
    more: "Its screw presses a lever, and the lever pulls the string a little. It is the safe one: half a turn is a small step. When it is all the way in it can’t go on, and it may scratch the top; all the way out it falls off. Then it goes back to its middle, and the peg does the rest.",
    drawing: FineTunerLever,
  },
  peg: {
    title: "Peg",
    short:
      "The wooden key at the scroll. A few degrees are a lot: ten are about a half-step. A nudge is the smallest turn you can feel.",
    more: "It is tapered like a cork: it holds because it is pushed in, so push while you turn, and turn in very small steps. First let it down a hair so that it comes free, then bring it up, plucking all along. Stop a little under the note and let the fine tuner finish. If it sticks or keeps springing back, stop and ask.",
    drawing: TaperedPeg,
  },
  winding: {
    title: "Which way the string is wound",
    short: "As a rule the string leaves the peg over its top, so turning the top away from the nut makes it higher.",
    more: "Some strings were put on the other way round. If a string goes lower when it should go higher, look how it comes off its peg and tell Pondus under How we tune; from then on the arrows are right.",
    drawing: Winding,
  },
  bridge: {
    title: "Bridge and soundpost",
    short: "The bridge carries the strings and is held by nothing but them. Its back, towards the tailpiece, stands upright.",
    more: "Turning pegs up pulls its top towards the fingerboard. Look at it from the side after every peg; a leaning bridge is put upright by a grown-up who has learned how. If it has fallen, stop: inside stands a small post, the soundpost, that may have fallen too. Leave the strings as they are and take it to a luthier.",
    drawing: BridgeAndPost,
  },
  cent: {
    title: "Cent",
    short: "A hundredth of a half-step. From A to the next key on a piano are 100 cents; below 3 hardly anyone hears it.",
    more: "A tuner shows how far a string is from the nearest note: −12 is 12 cents too low (flat), +12 is 12 cents too high (sharp). Once it is more than 50 away, the tuner shows the next letter instead.",
    drawing: TunersDisplay,
  },
  octave: {
    title: "Letters and octave numbers",
    short: "Twelve letters come round again and again; the number says which time round. It changes at C.",
    more: "While a string is turned up, the letters pass by in this order. G3 and G4 are both G, but far apart: a violin’s lowest string is G3, and it breaks long before G4. If a tuner shows no number, watch the letters, and when in doubt let the string down rather than up.",
    drawing: Alphabet,
  },
  beat: {
    title: "Beat",
    short: "Two strings that almost fit pulse together: wow, wow, wow. The slower it pulses, the nearer they are.",
    more: "Bow two neighbours together softly and listen. When the pulsing has become so slow that it stands still, the fifth is pure. On a tempered fifth a very slow pulse is left, and that is right.",
    drawing: null,
  },
  pure: {
    title: "Pure fifths",
    short: "Neighbouring strings that don’t beat at all. A tuner then shows the lower ones a little flat, and that is right.",
    more: "From A downwards each pure fifth is 2 cents wider than a piano’s: a violin’s G then stands at −4, a cello’s C at −6. Who plays alone or in a quartet may like it; with a piano it doesn’t fit.",
    drawing: null,
  },
  tempered: {
    title: "Tempered fifths",
    short: "Every string exactly as a tuner shows it, at 0: as a piano has it.",
    more: "All half-steps are equal. Fifths are then 2 cents narrower than pure, which is heard as a very slow beat. It fits everyone who tunes by a tuner.",
    drawing: null,
  },
};
