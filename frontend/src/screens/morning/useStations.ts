import { useState } from "react";

import type { StationAsked } from "../../api/morning";

const KEY = "pondus.stations";
const FIRST: StationAsked[] = [{ name: "teacher", may: "teacher", from_minutes: 0 }];

/** Who is there this morning, kept in this browser. */
export function useStations() {
  const [stations, setStations] = useState<StationAsked[]>(stored);
  const keep = (next: StationAsked[]) => {
    setStations(next);
    localStorage.setItem(KEY, JSON.stringify(next));
  };
  return {
    stations,
    change: (place: number, changes: Partial<StationAsked>) => {
      keep(stations.map((each, at) => (at === place ? { ...each, ...changes } : each)));
    },
    add: (may: StationAsked["may"]) => {
      keep([...stations, { name: nameFor(may, stations), may, from_minutes: 0 }]);
    },
    remove: (place: number) => {
      keep(stations.filter((_, at) => at !== place));
    },
  };
}

function stored(): StationAsked[] {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "null") as StationAsked[] | null;
    return Array.isArray(kept) && kept.length > 0 ? kept : FIRST;
  } catch {
    return FIRST;
  }
}

function nameFor(may: StationAsked["may"], stations: StationAsked[]): string {
  const base = may === "fine-tuners" ? "student" : "helper";
  let number = 1;
  while (stations.some((each) => each.name === `${base} ${String(number)}`)) number += 1;
  return `${base} ${String(number)}`;
}
