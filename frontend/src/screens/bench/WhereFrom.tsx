import { Choice } from "../../parts/Choice";

const BY_HAND = ["tuner", "letters", "light", "ear"] as const;
type ByHand = (typeof BY_HAND)[number];
export type SoundFrom = ByHand | "microphone" | "recording" | "simulated";

/** Where the readings come from: one plain choice. */
export function WhereFrom({ value, onChange }: { value: SoundFrom; onChange: (from: SoundFrom) => void }) {
  return (
    <Choice
      inline
      shown="We go by"
      label="Where the readings come from"
      value={value}
      options={[
        { value: "tuner", said: "a tuner’s figures" },
        { value: "letters", said: "its letters" },
        { value: "light", said: "its light" },
        { value: "ear", said: "a tone and the ear" },
        { value: "microphone", said: "microphone" },
        { value: "recording", said: "recording" },
        { value: "simulated", said: "simulated instrument" },
      ]}
      onChange={(from) => {
        if (isByHand(from)) keepUsual(from);
        onChange(from);
      }}
    />
  );
}

function isByHand(from: string): from is ByHand {
  return (BY_HAND as readonly string[]).includes(from);
}

const USUAL = "pondus-goes-by";

/** What this device went by last, of what is entered by hand: the next instrument opens with it. */
export function usualOnThisDevice(): ByHand | null {
  try {
    const kept = localStorage.getItem(USUAL) ?? "";
    return isByHand(kept) ? kept : null;
  } catch {
    return null;
  }
}

function keepUsual(from: ByHand): void {
  try {
    localStorage.setItem(USUAL, from);
  } catch {
    return; // a browser that keeps nothing begins with figures each time
  }
}
