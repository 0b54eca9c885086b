import { Ear } from "lucide-react";
import { useState } from "react";

import type { RoomHeard } from "../../api/classes";
import { hearRoom } from "../../api/classes";
import { Button } from "../../parts/Button";
import { Folded } from "../../parts/Folded";
import { Trouble } from "../../parts/Trouble";
import { recorded } from "../../sound/recorded";

const SECONDS = 5;

/** All play their A, and this device hears how far they are apart; again after each round. */
export function WholeRoom() {
  const [rounds, setRounds] = useState<RoomHeard[]>([]);
  const [hearing, setHearing] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const hear = async () => {
    setHearing(true);
    setError(null);
    try {
      const heard = await hearRoom(await recorded(SECONDS));
      setRounds((before) => [heard, ...before]);
    } catch (trouble) {
      setError(trouble instanceof Error ? trouble : new Error(String(trouble)));
    } finally {
      setHearing(false);
    }
  };
  const [now, ...before] = rounds;
  return (
    <section aria-label="The whole room" className="flex max-w-3xl flex-col items-start gap-3">
      <h2 className="w-full border-b-2 border-ink pb-1 text-xl font-bold">How far apart is the room?</h2>
      <p className="text-lg">All play their open A and nothing else, nobody speaks: five seconds.</p>
      <Button className="min-h-14 px-5 text-xl" disabled={hearing} onClick={() => void hear()}>
        <Ear size={22} aria-hidden /> {hearing ? "Listening…" : "Hear the room"}
      </Button>
      {now !== undefined && (
        <p role="status" className="text-2xl font-bold text-balance">
          {now.said}
        </p>
      )}
      {before.length > 0 && (
        <ol className="text-pencil" aria-label="Before" reversed>
          {before.map((each, place) => (
            <li key={before.length - place}>{each.said}</li>
          ))}
        </ol>
      )}
      <Trouble error={error} />
      <Folded title="What it can’t know">
        <p>
          Who it is, and how many play; somebody much softer than the rest; and an A while others play other strings. To find
          who stands apart go round with <i>Hear them all</i>: a few seconds each.
        </p>
      </Folded>
    </section>
  );
}
