import { useKeepSettings } from "../../api/bench";
import type { Bench } from "../../api/client";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import { settingsOf } from "./settingsOf";

/** These choices hold for this tuning; here they become the usual ones of the instrument or the whole studio. */
export function KeepAsUsual({ bench }: { bench: Bench }) {
  const keep = useKeepSettings();
  const { stance, ...withoutStance } = settingsOf(bench);
  return (
    <div className="flex flex-col gap-2 border-t border-rule pt-3">
      <p className="text-pencil">All this holds for this tuning. To begin every new one so:</p>
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            keep.mutate({ instrumentId: bench.instrument.id, settings: { ...withoutStance, stance } });
          }}
        >
          Keep for this {bench.instrument.kind}
        </Button>
        <Button
          onClick={() => {
            keep.mutate({ instrumentId: null, settings: withoutStance });
          }}
        >
          Keep for the studio
        </Button>
      </div>
      {keep.isSuccess && <p role="status">Kept: new tunings begin so.</p>}
      <Trouble error={keep.error} />
    </div>
  );
}
