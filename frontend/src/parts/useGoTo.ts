import { useNavigate } from "react-router";

import { useTake } from "../api/morning";

/** To an instrument's bench; where someone of the morning goes there, they take it in hand. */
export function useGoTo() {
  const navigate = useNavigate();
  const take = useTake();
  return async (instrument: string, station: string | null) => {
    if (station !== null) {
      // Held by someone else meanwhile: the bench still opens, the morning says whose it is.
      await take.mutateAsync({ station, instrument }).catch(() => undefined);
    }
    void navigate(`/bench/${instrument}${station === null ? "" : `?at=${station}`}`);
  };
}
