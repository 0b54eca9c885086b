import { ArrowRight } from "lucide-react";
import { useSearchParams } from "react-router";

import { useMe } from "../api/device";
import { useMorning, useMorningPlan } from "../api/morning";
import { Button } from "./Button";
import { Trouble } from "./Trouble";
import { useGoTo } from "./useGoTo";

interface NextInstrumentProps {
  current: string;
  /** It is what comes next: said in full. */
  isMain?: boolean;
}

/**
 * On to the instrument after this one, for whoever may see the morning: the next of this person's turns, where they came here from
 * the morning's plan, or else the next that wants anything.
 */
export function NextInstrument({ current, isMain = false }: NextInstrumentProps) {
  const station = useSearchParams()[0].get("at");
  const sees = useMe().data?.can.includes("see-morning") ?? false;
  const morning = useMorning(sees);
  const plan = useMorningPlan(sees && station !== null);
  const { goTo, error } = useGoTo();
  const turns = plan.data?.stations.find((each) => each.id === station)?.slots;
  const waiting = morning.data?.instruments.filter((each) => each.waits);
  const next = (turns ?? waiting)?.find((each) => each.id !== current);
  if (!sees || next === undefined) return null;
  return (
    <>
      <Trouble error={error} />
      <Button
        aria-label={`Next: ${next.label}`}
        look={isMain ? "main" : "plain"}
        className="shrink-0"
        onClick={() => {
          void goTo(next.id, turns === undefined ? null : station);
        }}
      >
        <span className={isMain ? "" : "hidden xl:inline"}>Next:</span>{" "}
        <span className={`max-w-32 truncate ${isMain ? "" : "max-sm:hidden"}`}>{next.label}</span>{" "}
        <ArrowRight size={18} aria-hidden />
      </Button>
    </>
  );
}
