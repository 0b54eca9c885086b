import { Choice } from "../../parts/Choice";

export type SoundFrom = "tuner" | "microphone" | "recording" | "simulated";

/** Where the readings come from: one plain choice. */
export function WhereFrom({ value, onChange }: { value: SoundFrom; onChange: (from: SoundFrom) => void }) {
  return (
    <Choice
      inline
      shown="Sound from"
      label="Where the sound comes from"
      value={value}
      options={[
        { value: "tuner", said: "typed from a tuner" },
        { value: "microphone", said: "microphone" },
        { value: "recording", said: "recording" },
        { value: "simulated", said: "simulated instrument" },
      ]}
      onChange={onChange}
    />
  );
}
