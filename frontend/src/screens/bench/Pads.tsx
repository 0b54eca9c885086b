import type { StringBench } from "../../api/client";
import { Button } from "../../parts/Button";
import { Folded } from "../../parts/Folded";
import { Trouble } from "../../parts/Trouble";
import type { AlongsideProps } from "./Alongside";
import { Alongside } from "./Alongside";
import { ToneButton } from "./ToneButton";
import type { Tone } from "./useHandsFree";
import type { SoundFrom } from "./WhereFrom";

/** What a pad's fields say, in their order: as it is entered, and as it is read. */
type Field = [typed: string, said: string];

const LIGHT: Field[] = [
  ["flat", "left: flat"],
  ["in tune", "in the middle"],
  ["sharp", "right: sharp"],
];
/** What an ear's fields are called where answers are compared. */
export const EAR_SIDES: Record<string, string> = {
  "much lower": "much-lower",
  lower: "lower",
  "the same": "same",
  higher: "higher",
  "much higher": "much-higher",
};
const EAR: Field[] = [
  ["much lower", "much lower"],
  ["lower", "a little lower"],
  ["the same", "the same"],
  ["higher", "a little higher"],
  ["much higher", "much higher"],
];

/** The fields of whoever goes by something else than figures; null: a line is typed. */
export function fieldsOf(from: SoundFrom, string: StringBench): Field[] | null {
  if (from === "light") return LIGHT;
  if (from === "ear") return EAR;
  return from === "letters" ? string.letters.map((letter) => [letter, letter]) : null;
}

interface PadProps {
  from: SoundFrom;
  string: StringBench;
  tone: Tone;
  /** The microphone that may follow an ear. */
  along: AlongsideProps;
  error: Error | null;
  onSaid: (typed: string) => void;
  onLetters: () => void;
}

/** Fields to press instead of a line to type in. */
export function Pad({ from, string, tone, along, error, onSaid, onLetters }: PadProps) {
  const own = letterOf(string);
  return (
    <section aria-label="What it shows" className="flex flex-col gap-2">
      {from === "letters" && <Letters string={string} onSaid={onSaid} />}
      {from === "light" && (
        <>
          <h2 className="font-bold">Where is the light for the {string.name} string?</h2>
          <Fields fields={LIGHT} first={1} className="grid-cols-3" onSaid={onSaid} />
          {/* A light beside another letter says nothing of this string's own. */}
          <Button className="self-start" onClick={onLetters}>
            It shows another letter than {own}
          </Button>
        </>
      )}
      {from === "ear" && <Ear string={string} tone={tone} along={along} onSaid={onSaid} />}
      <Trouble error={error} />
    </section>
  );
}

function letterOf(string: StringBench): string {
  return string.target_note.replace(/\d$/, "");
}

function Letters({ string, onSaid }: Pick<PadProps, "string" | "onSaid">) {
  const own = letterOf(string);
  return (
    <>
      <h2 className="font-bold">Which letter does the tuner show for the {string.name} string?</h2>
      <Fields
        fields={string.letters.map((letter) => [letter, letter])}
        first={1}
        own={own}
        className="grid-cols-6 sm:grid-cols-11"
        onSaid={onSaid}
      />
      <h3 className="font-bold">If it shows {own}, and a light beside it:</h3>
      <Fields fields={LIGHT} first={null} at={own} className="grid-cols-3" onSaid={onSaid} />
    </>
  );
}

function Ear({ string, tone, along, onSaid }: Pick<PadProps, "string" | "tone" | "along" | "onSaid">) {
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <ToneButton
          tone={tone}
          octaves={tone.octaves}
          follows
          look={tone.sounding === null && string.advice === null ? "main" : "plain"}
          className="min-h-14 px-5 text-xl"
        />
        <Button aria-pressed={tone.octaves > 0} onClick={tone.onOctave}>
          an octave higher
        </Button>
      </div>
      <h2 className="font-bold">Beside that tone, your {string.name} string is …</h2>
      <Fields fields={EAR} first={1} className="grid-cols-5" onSaid={onSaid} />
      <Alongside {...along} />
      <Folded title="I can’t tell">
        <p>{string.cant_tell}</p>
      </Folded>
    </>
  );
}

interface FieldsProps {
  fields: Field[];
  /** The number key of the first field; null: none has one. */
  first: number | null;
  own?: string;
  /** The letter that each of these fields is about: whoever is shown another presses none of them. */
  at?: string;
  className: string;
  onSaid: (typed: string) => void;
}

function Fields({ fields, first, own, at, className, onSaid }: FieldsProps) {
  return (
    <div className={`grid gap-1.5 sm:gap-2 ${className}`}>
      {fields.map(([typed, said], place) => (
        <button
          key={typed}
          type="button"
          title={first === null || first + place > 9 ? undefined : `Key ${String(first + place)}`}
          className={`min-h-14 rounded-md border-2 border-ink px-1 text-base leading-tight font-bold hover:bg-lit sm:min-h-16 sm:text-xl ${typed === own ? "bg-ink text-paper hover:text-ink" : "bg-sheet"}`}
          onClick={() => {
            onSaid(typed);
          }}
        >
          {at !== undefined && <span className="block text-xl">{at} </span>}
          {said}
        </button>
      ))}
    </div>
  );
}
