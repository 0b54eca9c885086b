import { useNavigate } from "react-router";

import { useTake } from "../api/morning";

/**
 * To an instrument's bench; where someone of the morning goes there, they take it in hand. If another has it meanwhile, they
 * stay where they are, and `error` says whose it is.
 */
export function useGoTo() {
  const navigate = useNavigate();
  const take = useTake();
  const goTo = async (instrument: string, station: string | null) => {
    if (station !== null) {
      const taken = await take.mutateAsync({ station, instrument }).catch(() => null);
      if (taken === null) return;
    }
    void navigate(`/bench/${instrument}${station === null ? "" : `?at=${station}`}`);
  };
  return { goTo, error: take.error };
}
