import type { DragEvent, KeyboardEvent } from "react";
import { useCallback, useEffect, useRef, useState } from "react";

import {
  useAddMove,
  useAddReading,
  useNewTuning,
  useRestore,
  useStrike,
  useStringFittings,
  useTuningSettings,
} from "../../api/bench";
import type { Bench, NewReading, StringBench } from "../../api/client";
import { newId } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { asMade } from "../../api/moves";
import { useSimulatedPlaying } from "../../parts/simulated/useSimulatedPlaying";
import type { SoundFrom } from "./WhereFrom";
import { useHandsFree } from "./useHandsFree";
import { settingsOf } from "./settingsOf";
import { useRecordings } from "./useRecordings";

/** Everything a person can do at the bench: type, turn, step, strike out, drop recordings. */
export function useBenchHands(instrumentId: string, bench: Bench | undefined) {
  const inputRef = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  const [text, setText] = useState("");
  const [keysOpen, setKeysOpen] = useState(false);
  const addReading = useAddReading(instrumentId);
  const addMove = useAddMove(instrumentId);
  const strike = useStrike(instrumentId);
  const restore = useRestore(instrumentId);
  const settings = useTuningSettings(instrumentId);
  const fittings = useStringFittings(instrumentId);
  const begin = useNewTuning(instrumentId);

  const asSeen = bench === undefined ? [] : seenFrom(bench);
  const name = chosen ?? bench?.next_string ?? bench?.strings[0]?.name ?? null;
  const string = bench?.strings.find((each) => each.name === name) ?? null;
  const tuningId = bench?.tuning.id;

  const { mutateAsync: sendReading, reset: forgetError } = addReading;
  const sendAndFollow = useCallback(
    async (reading: NewReading) => {
      if (tuningId === undefined) throw new Error("There is no tuning yet.");
      const after = await sendReading({ tuningId, reading });
      const settled = after.strings.find((each) => each.name === reading.string)?.advice?.state === "in-tune";
      setChosen(settled ? (after.next_string ?? reading.string) : reading.string);
    },
    [sendReading, tuningId],
  );
  const recordings = useRecordings(bench, sendAndFollow);
  const [from, setFrom] = useState<SoundFrom>("tuner");
  const handsFree = useHandsFree(bench, string, from === "simulated" ? "simulated" : "microphone", {
    keepReading: sendAndFollow,
  });
  const playing = useSimulatedPlaying(instrumentId, from === "simulated", (source) =>
    handsFree.listenTo(source.open),
  );

  useEffect(() => {
    if (window.matchMedia("(pointer: fine)").matches) inputRef.current?.focus({ preventScroll: true });
  }, [name]);

  const choose = (to: string) => {
    setChosen(to);
    setText("");
    forgetError();
  };
  const stepBy = (by: number) => {
    const place = asSeen.findIndex((each) => each.name === name);
    const next = asSeen[(place + by + asSeen.length) % asSeen.length];
    if (next !== undefined) choose(next.name);
  };
  const keepMove = (move: MoveMade) => {
    if (tuningId !== undefined && string !== null) {
      addMove.mutate({ tuningId, move: { ...move, id: newId(), string: string.name } });
    }
    inputRef.current?.focus({ preventScroll: true });
  };
  const keepTyped = () => {
    if (string === null) return;
    if (text.trim() === "") {
      const first = string.pending === null ? string.advice?.steps[0] : undefined;
      if (first !== undefined && first.amount !== null) keepMove(asMade(first));
      return;
    }
    void sendAndFollow({ id: newId(), string: string.name, typed: text }).then(
      () => {
        setText("");
      },
      () => undefined,
    );
  };
  const strikeLast = () => {
    const last = bench?.history.find((entry) => !entry.struck);
    if (last !== undefined) strike.mutate({ kind: last.kind, id: last.id });
  };

  usePageKeys({
    stepBy,
    openKeys: setKeysOpen,
    keysOpen,
    strikeLast,
    listening: handsFree.on,
    takeNow: handsFree.takeNow,
    hold: handsFree.hold,
  });

  return {
    string,
    asSeen,
    live: handsFree.live,
    listening: handsFree.panel,
    from,
    chooseFrom: (next: SoundFrom) => {
      handsFree.stop();
      playing.bow([]);
      setFrom(next);
    },
    playing,
    keysOpen,
    setKeysOpen,
    choose,
    keepMove,
    strike: strike.mutate,
    restore: restore.mutate,
    newTuning: () => {
      setChosen(null);
      begin.mutate(bench === undefined ? {} : settingsOf(bench));
    },
    changeSettings: (changed: Parameters<typeof settings.mutate>[0]["settings"]) => {
      if (tuningId !== undefined) settings.mutate({ tuningId, settings: changed });
    },
    changeFittings: (of: string, changed: Parameters<typeof fittings.mutate>[0]["fittings"]) => {
      fittings.mutate({ name: of, fittings: changed });
    },
    keepSure: () => {
      const last = bench?.last_heard[string?.name ?? ""];
      if (string !== null && last !== undefined) {
        void sendAndFollow({ id: newId(), string: string.name, heard: last, sure_of_string: true });
      }
    },
    goOn:
      bench?.next_string == null || bench.next_string === name
        ? null
        : () => {
            choose(bench.next_string ?? "");
          },
    entry: {
      inputRef,
      text,
      error:
        addReading.error ??
        addReading.failureReason ??
        addMove.error ??
        addMove.failureReason ??
        strike.error,
      sending: addReading.isPending || addMove.isPending,
      onText: setText,
      onKeep: keepTyped,
      onKey: (event: KeyboardEvent<HTMLInputElement>) => {
        const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
        if (by !== undefined) {
          event.preventDefault();
          setText((before) => nudged(before, by));
        }
      },
    },
    recordings: {
      lines: recordings.lines,
      left: recordings.left,
      onFiles: (files: File[]) => {
        void recordings.hearAll(files);
      },
    },
    dropZone: {
      onDragOver: (event: DragEvent) => {
        event.preventDefault();
      },
      onDrop: (event: DragEvent) => {
        event.preventDefault();
        void recordings.hearAll([...event.dataTransfer.files]);
      },
    },
  };
}

/** The strings left to right as this person sees them: mirrored from behind a cello and from the scroll. */
function seenFrom(bench: Bench): StringBench[] {
  const mirrored = bench.tuning.stance === "seated" || bench.tuning.stance === "helper";
  return mirrored ? [...bench.strings].reverse() : bench.strings;
}

/** The figure at the end of the line, one cent on. */
function nudged(text: string, by: number): string {
  const match = /^(.*?)([+\-−]?\d+)?$/.exec(text);
  const before = Number((match?.[2] ?? "0").replace("−", "-"));
  const after = Math.max(-50, Math.min(50, before + by));
  return `${match?.[1] ?? ""}${after < 0 ? "−" : "+"}${String(Math.abs(after))}`;
}

interface PageKeys {
  stepBy: (by: number) => void;
  openKeys: (open: boolean) => void;
  keysOpen: boolean;
  strikeLast: () => void;
  listening: boolean;
  takeNow: () => void;
  hold: () => void;
}

/** Keys that work wherever the focus is: page-turn pedals step the strings. */
function usePageKeys(does: PageKeys): void {
  const latest = useRef(does);
  useEffect(() => {
    latest.current = does;
  });
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      const { stepBy, openKeys, keysOpen, strikeLast, listening, takeNow, hold } = latest.current;
      const inLine = event.target instanceof HTMLInputElement;
      const typed = inLine ? event.target.value : "";
      const free = listening && typed === "" && !(event.target instanceof HTMLButtonElement);
      const acts: Record<string, (() => void) | undefined> = {
        PageDown: () => {
          stepBy(1);
        },
        PageUp: () => {
          stepBy(-1);
        },
        "?": () => {
          openKeys(!keysOpen);
        },
      };
      if (free) Object.assign(acts, { " ": takeNow, h: hold, Backspace: strikeLast });
      const act = event.ctrlKey && event.key === "z" && typed === "" ? strikeLast : acts[event.key];
      if (act === undefined) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, []);
}
