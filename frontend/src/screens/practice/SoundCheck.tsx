import { useState } from "react";

import type { Loudspeaker } from "../../sound/practice";
import { keepVolume } from "../../sound/practice";
import { Button } from "../../parts/Button";

/** Before the first sound on a device: is it heard well, and not too loud? */
export function SoundCheck({ loudspeaker, onDone }: { loudspeaker: Loudspeaker; onDone: () => void }) {
  const [volume, setVolume] = useState(loudspeaker.volume);
  const [heard, setHeard] = useState(false);
  const change = (to: number) => {
    const bounded = Math.min(0.9, Math.max(0.05, to));
    loudspeaker.setVolume(bounded);
    setVolume(bounded);
    setHeard(true);
    void loudspeaker.check();
  };
  return (
    <section aria-label="Sound check" className="flex max-w-xl flex-col gap-4 rounded-lg border-2 border-ink bg-sheet p-5">
      <h2 className="text-2xl font-bold">First the sound</h2>
      <p className="text-lg">
        Set this device’s volume low, then play the tone. It should be easy to hear, and as soft as someone talking beside you;
        that is how loud everything here will be.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button
          look={heard ? "plain" : "main"}
          onClick={() => {
            change(volume);
          }}
        >
          Play the tone
        </Button>
        <Button
          onClick={() => {
            change(volume / 1.5);
          }}
        >
          Softer
        </Button>
        <Button
          onClick={() => {
            change(volume * 1.5);
          }}
        >
          Louder
        </Button>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button
          look={heard ? "main" : "plain"}
          onClick={() => {
            keepVolume(volume);
            onDone();
          }}
        >
          That is right
        </Button>
      </div>
    </section>
  );
}
