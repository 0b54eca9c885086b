import { useEffect, useId, useState } from "react";

import type { MicrophoneChecked } from "../api/fifths";
import { checkMicrophone } from "../api/fifths";
import { chooseMicrophone, chosenMicrophone, microphones } from "../sound/microphone";
import { recorded } from "../sound/recorded";
import { Button } from "./Button";
import { FIELD } from "./field";
import { Folded } from "./Folded";
import { Trouble } from "./Trouble";

interface ThisMicrophoneProps {
  kind: string;
  /** It listens just now. */
  on: boolean;
  /** Another was chosen while it listens. */
  onChosen: () => void;
}

/** Which microphone this device listens with, and what that one will manage in the room. */
export function ThisMicrophone({ kind, on, onChosen }: ThisMicrophoneProps) {
  return (
    <Folded title="This microphone">
      <div className="flex flex-col gap-3">
        <Which
          onChosen={() => {
            if (on) onChosen();
          }}
        />
        {on ? <p className="text-pencil">To check it, stop listening first.</p> : <Check kind={kind} />}
      </div>
    </Folded>
  );
}

function Which({ onChosen }: { onChosen: () => void }) {
  const [all, setAll] = useState<{ id: string; name: string }[]>([]);
  const [chosen, setChosen] = useState(chosenMicrophone);
  const field = useId();
  useEffect(() => {
    const look = () => void microphones().then(setAll);
    look();
    const devices = navigator.mediaDevices as MediaDevices | undefined;
    devices?.addEventListener("devicechange", look);
    return () => devices?.removeEventListener("devicechange", look);
  }, []);
  if (all.length < 2)
    return (
      <p>
        In a class one that clips onto the bridge hears nobody else: plug it in, and it can be chosen here
        {all.length === 0 ? " once this page may listen" : ""}.
      </p>
    );
  const has = all.some((each) => each.id === chosen);
  return (
    <div className="flex flex-wrap items-center gap-2">
      <label htmlFor={field}>Listen with</label>
      <select
        id={field}
        className={`${FIELD} min-w-0 flex-1`}
        value={has ? (chosen ?? "") : ""}
        onChange={(event) => {
          const id = event.target.value === "" ? null : event.target.value;
          chooseMicrophone(id);
          setChosen(id);
          onChosen();
        }}
      >
        <option value="">whichever this device chooses</option>
        {all.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </select>
    </div>
  );
}

const FIRST_AT = 3.5;
const SECOND_AT = 6.75;
const ENDS_AT = 10;
const TOLD: [until: number, said: string][] = [
  [FIRST_AT, "Let the room sound as it will later."],
  [SECOND_AT, "Now play one string."],
  [ENDS_AT, "Now another."],
];

/** Ten seconds that say what it will manage. */
function Check({ kind }: { kind: string }) {
  const [told, setTold] = useState<string | null>(null);
  const [checked, setChecked] = useState<MicrophoneChecked | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const check = async () => {
    setChecked(null);
    setError(null);
    let timers: ReturnType<typeof setTimeout>[] = [];
    try {
      const sound = await recorded(ENDS_AT, () => {
        timers = TOLD.map(([, said], place) =>
          setTimeout(
            () => {
              setTold(said);
            },
            1000 * (TOLD[place - 1]?.[0] ?? 0),
          ),
        );
      });
      setTold("One moment…");
      setChecked(await checkMicrophone(sound, kind, FIRST_AT, SECOND_AT));
    } catch (trouble) {
      setError(trouble instanceof Error ? trouble : new Error(String(trouble)));
    } finally {
      timers.forEach(clearTimeout);
      setTold(null);
    }
  };
  const [first, ...more] = checked?.said ?? [];
  return (
    <div className="flex flex-col items-start gap-2">
      {told === null ? (
        <Button onClick={() => void check()}>Check it in this room: ten seconds</Button>
      ) : (
        <p role="status" className="min-h-11 text-3xl font-bold">
          {told}
        </p>
      )}
      {first !== undefined && (
        <div role="status">
          <p className="text-xl font-bold text-balance">{first}</p>
          {more.map((each) => (
            <p key={each}>{each}</p>
          ))}
        </div>
      )}
      <Trouble error={error} />
    </div>
  );
}
