import { useDeferredValue, useState } from "react";

import { useChoices, useInstruments } from "../../api/instruments";
import { LANGUAGE } from "../figures";
import { fits } from "../find/found";
import type { NarrowProps } from "./Narrow";

/** An instrument as any list has it. */
export interface Listed {
  id: string;
  label: string;
  kind: string;
  size: string;
  player: string | null;
  /** What a school keeps besides; where it isn't told, the roll is asked. */
  details?: Record<string, string>;
}

export type Line<T> = { heading: string; count: number } | { one: T };

const KEPT = "pondus-list-by";
const sorter = new Intl.Collator(LANGUAGE, { numeric: true, sensitivity: "base" });

/** A list of instruments, narrowed to what somebody types, and put in an order; which one, this device remembers. */
export function useNarrowed<T extends Listed>(all: T[]): NarrowProps & { members: T[]; lines: Line<T>[] } {
  const [typed, setTyped] = useState("");
  const [by, setBy] = useState(() => localStorage.getItem(KEPT) ?? "");
  const said = useChoices().data?.details ?? [];
  const lacking = all.some((each) => each.details === undefined);
  const kept = useInstruments(false, lacking).data ?? [];
  const details = new Map((lacking ? kept : all).map((each) => [each.id, each.details ?? {}]));
  const asked = useDeferredValue(typed);
  const members = all.filter((each) => {
    const words = Object.values(details.get(each.id) ?? {}).join(" ");
    return fits(`${each.label} ${each.kind} ${each.size} ${each.player ?? ""} ${words}`, asked);
  });
  const gathers = ({ value }: { value: string }) => {
    const kept = [...details.values()].flatMap((each) => each[value] ?? []);
    return new Set(kept).size < kept.length;
  };
  const ways = [
    { value: "", said: "label" },
    { value: "player", said: "who has it" },
    { value: "kind", said: "kind and size" },
    ...said.filter(gathers),
  ];
  const chosen = ways.some(({ value }) => value === by) ? by : "";
  const headingOf = (each: T): string => {
    if (chosen === "kind") return `${each.kind} ${each.size}`;
    return details.get(each.id)?.[chosen] ?? "";
  };
  return {
    typed,
    onType: setTyped,
    by: chosen,
    onBy: (next: string) => {
      localStorage.setItem(KEPT, next);
      setBy(next);
    },
    ways,
    shown: members.length,
    all: all.length,
    members,
    lines: linesOf(members, chosen, headingOf),
  };
}

function linesOf<T extends Listed>(shown: T[], by: string, headingOf: (each: T) => string): Line<T>[] {
  if (by === "") return shown.map((one) => ({ one }));
  if (by === "player") {
    const named = shown.filter((each) => each.player !== null);
    named.sort((one, other) => sorter.compare(one.player ?? "", other.player ?? ""));
    return [...named, ...shown.filter((each) => each.player === null)].map((one) => ({ one }));
  }
  const groups = new Map<string, T[]>();
  for (const each of shown) groups.set(headingOf(each), [...(groups.get(headingOf(each)) ?? []), each]);
  const inOrder = [...groups].sort(([one], [other]) =>
    one === "" || other === "" ? Number(one === "") - Number(other === "") : sorter.compare(one, other),
  );
  return inOrder.flatMap(([heading, members]) => [
    { heading: heading === "" ? "the others" : heading, count: members.length },
    ...members.map((one) => ({ one })),
  ]);
}
