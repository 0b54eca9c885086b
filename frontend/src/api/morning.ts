import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

export type Swept = components["schemas"]["MorningOut.SweptOut"];
export type Planned = components["schemas"]["PlannedOut"];
export type StationAsked = components["schemas"]["PlanIn.StationIn"];

const EVERY_MS = 4000;

/** Every instrument of the studio, sorted; asked again as readings come. */
export function useMorning() {
  return useQuery({
    queryKey: ["morning"],
    queryFn: () => answered(api.GET("/api/morning")),
    refetchInterval: EVERY_MS,
  });
}

/** Who does what; planned anew as instruments are done or people are late. `changed`: when the sorting last changed. */
export function useMorningPlan(stations: StationAsked[], changed: string) {
  return useQuery({
    queryKey: ["morning-plan", stations, changed],
    enabled: stations.length > 0,
    placeholderData: keepPreviousData,
    queryFn: () => answered(api.POST("/api/morning/plan", { body: { stations } })),
  });
}
