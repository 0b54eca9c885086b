import { Square, Volume2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import type { ChainLink, FifthSound } from "../../api/fifths";
import { Button } from "../../parts/Button";
import { startTones } from "../../sound/startTones";

/** Hear the fifth as it is, as it should be, pure and tempered, one after the other, as often as wanted. */
export function FifthTones({ link }: { link: ChainLink }) {
  const { sounding, toggle } = useFifthSound();
  return (
    <div role="group" aria-label="Listen to it" className="flex flex-wrap gap-2">
      {link.sounds.map((each) => {
        const on = sounding === each.name;
        return (
          <Button
            key={each.name}
            aria-pressed={on}
            title={`${each.lower_hz.toFixed(2)} and ${each.upper_hz.toFixed(2)} Hz`}
            onClick={() => {
              toggle(each);
            }}
          >
            {on ? <Square size={18} aria-hidden /> : <Volume2 size={18} aria-hidden />}
            {each.name}
            <span className="text-sm text-pencil">{each.beats_hz.toFixed(2)}/s</span>
          </Button>
        );
      })}
    </div>
  );
}

/** At most one fifth sounds; it stops when its screen goes. */
function useFifthSound() {
  const [sounding, setSounding] = useState<string | null>(null);
  const stopper = useRef<(() => void) | null>(null);
  const stop = () => {
    stopper.current?.();
    stopper.current = null;
  };
  useEffect(() => stop, []);
  const toggle = (sound: FifthSound) => {
    stop();
    if (sounding === sound.name) {
      setSounding(null);
      return;
    }
    stopper.current = startTones([
      { hz: sound.lower_hz, partials: sound.lower_partials, level: sound.level },
      { hz: sound.upper_hz, partials: sound.upper_partials, level: sound.level },
    ]);
    setSounding(sound.name);
  };
  return { sounding, toggle };
}
