import type { DragEvent } from "react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";

import type { Bench, MoveAnswer, NewReading, Option } from "../../api/client";
import { newId } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { asMade, isDone } from "../../api/moves";
import { outbox, useOutbox } from "../../api/outbox/benchOutbox";
import { useSayAloud } from "../../sound/useSayAloud";
import { useSimulatedPlaying } from "../../parts/simulated/useSimulatedPlaying";
import { asSeen } from "../../parts/TurnDrawing";
import { useBenchEntries } from "./useBenchEntries";
import { useBenchMemory } from "./useBenchMemory";
import { useEntryLine } from "./useEntryLine";
import { useHandsFree } from "./useHandsFree";
import { usePageKeys } from "./usePageKeys";
import { useRecordings } from "./useRecordings";
import { answerSaid, questionOf } from "./questionOf";
import { settles, waitsOf } from "./waits";
import { fieldsOf } from "./Pads";
import type { SoundFrom } from "./WhereFrom";

/** The bench in someone's hands: which string, where the sound comes from, and what is entered. */
export function useBenchController(instrumentId: string, bench: Bench | undefined) {
  const kept = useBenchMemory(instrumentId, bench?.goes_by);
  const { chosen } = kept.memory;
  const from: SoundFrom = kept.memory.from ?? "tuner";
  const { remember } = kept;
  const [keysOpen, setKeysOpen] = useState(false);
  const [refused, setRefused] = useState<Error | null>(null);
  const entries = useBenchEntries(instrumentId, bench);
  const all = useOutbox();
  const waiting = useMemo(() => all.filter((entry) => entry.instrument === instrumentId), [all, instrumentId]);

  const strings = bench === undefined ? [] : asSeen(bench.hold, bench.strings);
  const waits = waitsOf(strings, waiting);
  const string = strings.find((each) => each.name === (chosen ?? bench?.next_string)) ?? bench?.strings[0] ?? null;
  const name = string?.name ?? null;
  const line = useEntryLine(name, kept);

  /** Go to a string by itself; what is half typed goes along, as the person means the string that comes. */
  const handOver = useCallback(
    (past: string, to: string) => {
      remember(({ typed }) => ({
        chosen: to,
        typed: past === to ? typed : { ...typed, [past]: "", [to]: typed[to] || typed[past] || "" },
      }));
    },
    [remember],
  );
  /** Counts what a person did: an answer that comes later doesn't lead away from where they went since. */
  const deeds = useRef(0);
  const { keepReading } = entries;
  const keepAndFollow = useCallback(
    async (reading: NewReading, to?: string) => {
      const deed = ++deeds.current;
      setRefused(null);
      if (to !== undefined) handOver(reading.string, to);
      const after = await keepReading(reading);
      if (deed !== deeds.current) return;
      const left = after.strings.find((each) => each.name === reading.string)?.is_left === true;
      handOver(to ?? reading.string, left ? (after.next_string ?? reading.string) : reading.string);
    },
    [keepReading, handOver],
  );
  const recordings = useRecordings(bench, keepAndFollow);
  const source = from === "simulated" ? "simulated" : "microphone";
  const handsFree = useHandsFree(bench, string, source, from === "ear", { keepReading: keepAndFollow });
  const aloud = useSayAloud(handsFree.on ? (string?.headline ?? null) : null, handsFree.live?.hears ?? "quiet");
  const playing = useSimulatedPlaying(instrumentId, from === "simulated", (source) => handsFree.listenTo(source.open));

  const choose = (to: string) => {
    deeds.current += 1;
    remember({ chosen: to });
    setRefused(null);
  };
  const stepBy = (by: number) => {
    const place = strings.findIndex((each) => each.name === name);
    const next = strings[(place + by + strings.length) % strings.length];
    if (next !== undefined) choose(next.name);
  };
  const keepMove = (move: MoveMade) => {
    deeds.current += 1;
    if (string !== null) entries.keepMove(string.name, move);
    line.focus();
  };
  /** Where to go on from a string that will be well; the server named one before it knew of what still waits. */
  const nextAfter = (name: string, then: string | null): string | undefined => {
    const open = [then, ...(bench?.plan.ask ?? []), ...(bench?.plan.lines.map((line) => line.string) ?? [])];
    return open.find((other) => other !== null && other !== name && waits[other]?.settles !== true) ?? undefined;
  };
  /** Keep what was typed or pressed; the line is free at once. What isn't taken comes back into it, if it is still free. */
  const keepTypedReading = (typed: string) => {
    if (string === null) return;
    const id = newId();
    const over = settles(string, typed) ? nextAfter(string.name, string.then) : undefined;
    keepAndFollow({ id, string: string.name, typed }, over).catch((error: unknown) => {
      setRefused(error instanceof Error ? error : new Error(String(error)));
      remember((before) => {
        if ((before.typed[string.name] ?? "") !== "") return {};
        outbox.drop(id);
        return { chosen: string.name, typed: { ...before.typed, [string.name]: typed } };
      });
    });
  };
  const keepSure = () => {
    const last = bench?.last_heard[string?.name ?? ""];
    if (string !== null && last !== undefined) {
      quietly(keepAndFollow({ id: newId(), string: string.name, heard: last, sure_of_string: true }));
    }
  };
  const answerQuestion = (option: Option) => {
    if (string === null) return;
    const { heard, string: other, sure_of_string } = option.set;
    if (typeof other === "string") {
      const last = bench?.last_heard[string.name];
      if (string.reading !== null) entries.strikeAt({ kind: "reading", id: string.reading.id });
      if (last !== undefined) quietly(keepAndFollow({ id: newId(), string: other, heard: last }));
    } else if (heard !== undefined) {
      const told = heard as NonNullable<NewReading["heard"]>;
      quietly(keepAndFollow({ id: newId(), string: string.name, heard: told, sure_of_string: sure_of_string === true }));
    } else if (sure_of_string === true) keepSure();
    else if (string.moved !== null) {
      entries.answerMove(string.moved.id, option.answer as MoveAnswer);
    }
    line.focus();
  };
  const asked = string === null || string.pending !== null || waits[string.name] !== undefined ? null : string;
  const stood = useStanding(asked === null ? null : `${asked.name} ${String(bench?.log_version)}`);
  const keepTyped = () => {
    const deliberate = line.isDeliberate() && stood();
    const text = line.text.trim();
    if (text === "") {
      const first = asked?.advice?.steps[0];
      if (deliberate && first !== undefined && isDone(first)) keepMove(asMade(first));
      return;
    }
    const said = asked === null ? null : answerSaid(asked, text);
    line.setText("");
    if (said !== null) answerQuestion(said);
    else keepTypedReading(text);
  };

  /** A field was pressed: the line has the focus again, where there is one. */
  const keepSaid = (typed: string) => {
    if (from === "ear" && string !== null) handsFree.earSaid(string.name, typed);
    keepTypedReading(typed);
    line.focus();
  };
  const fields = string === null ? null : fieldsOf(from, string);
  usePageKeys({
    answer: (place) => {
      const question = asked === null ? null : questionOf(asked);
      const option = question?.options[place];
      const field = fields?.[place];
      if (option !== undefined) answerQuestion(option);
      else if (question === null && field !== undefined) keepSaid(field[0]);
    },
    hasFields: fields !== null,
    stepBy,
    openKeys: setKeysOpen,
    keysOpen,
    strikeLast: entries.undo,
    listening: handsFree.on,
    takeNow: handsFree.takeNow,
    hold: handsFree.hold,
    hIsNote: bench?.tuning.spelling === "german",
    home: line.focus,
  });

  const hearFiles = (files: File[]) => {
    void recordings.hearAll(files);
  };
  return {
    string,
    strings,
    waits,
    waiting,
    live: handsFree.live,
    isListening: handsFree.on,
    aloud,
    listening: handsFree.panel,
    from,
    chooseFrom: (next: SoundFrom) => {
      handsFree.stop();
      playing.bow([]);
      remember({ from: next });
    },
    playing,
    keysOpen,
    setKeysOpen,
    choose,
    keepMove,
    strike: entries.strike,
    restore: entries.bringBack,
    lastDeed: { last: entries.last, takenBack: entries.takenBack, onUndo: entries.undo, onBringBack: entries.bringBack },
    newTuning: () => {
      remember({ chosen: null, typed: {} });
      entries.newTuning();
    },
    backToBefore: () => {
      remember({ chosen: null, typed: {} });
      entries.backToBefore();
    },
    changeSettings: entries.changeSettings,
    changeFittings: entries.changeFittings,
    answerQuestion,
    keepSaid,
    goOn:
      bench?.next_string == null || bench.next_string === name
        ? null
        : () => {
            choose(bench.next_string ?? "");
          },
    entry: {
      inputRef: line.inputRef,
      text: line.text,
      error: refused ?? entries.fittingsError,
      onText: line.setText,
      onKeep: keepTyped,
      onKey: line.onKey,
    },
    recordings: { lines: recordings.lines, left: recordings.left, onFiles: hearFiles },
    dropZone: {
      onDragOver: (event: DragEvent) => {
        event.preventDefault();
      },
      onDrop: (event: DragEvent) => {
        event.preventDefault();
        hearFiles([...event.dataTransfer.files]);
      },
    },
  };
}

const STANDS_MS = 1000;

/** Whether what is shown (told apart by `what`) has stood for a second: nobody confirms what they can't have read. */
function useStanding(what: string | null): () => boolean {
  const since = useRef(Infinity);
  useEffect(() => {
    since.current = what === null ? Infinity : performance.now();
  }, [what]);
  return () => performance.now() - since.current > STANDS_MS;
}

/** What isn't taken stays in sight by itself. */
function quietly(entered: Promise<unknown>): void {
  entered.catch(() => undefined);
}
