import type { DragEvent } from "react";
import { useCallback, useState } from "react";

import type { Bench, MoveAnswer, NewReading, Option } from "../../api/client";
import { newId } from "../../api/client";
import type { MoveMade } from "../../api/moves";
import { asMade, isDone } from "../../api/moves";
import { useSimulatedPlaying } from "../../parts/simulated/useSimulatedPlaying";
import { asSeen } from "../../parts/TurnDrawing";
import { useBenchEntries } from "./useBenchEntries";
import { useEntryLine } from "./useEntryLine";
import { useHandsFree } from "./useHandsFree";
import { usePageKeys } from "./usePageKeys";
import { useRecordings } from "./useRecordings";
import { answerSaid, questionOf } from "./questionOf";
import type { SoundFrom } from "./WhereFrom";

/** The bench in someone's hands: which string, where the sound comes from, and what is entered. */
export function useBenchController(instrumentId: string, bench: Bench | undefined) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [keysOpen, setKeysOpen] = useState(false);
  const [from, setFrom] = useState<SoundFrom>("tuner");
  const entries = useBenchEntries(instrumentId, bench);

  const strings = bench === undefined ? [] : asSeen(bench.hold, bench.strings);
  const name = chosen ?? bench?.next_string ?? bench?.strings[0]?.name ?? null;
  const string = bench?.strings.find((each) => each.name === name) ?? null;
  const line = useEntryLine(name);

  const { keepReading } = entries;
  const keepAndFollow = useCallback(
    async (reading: NewReading) => {
      const after = await keepReading(reading);
      const settled = after.strings.find((each) => each.name === reading.string)?.advice?.state === "in-tune";
      setChosen(settled ? (after.next_string ?? reading.string) : reading.string);
    },
    [keepReading],
  );
  const recordings = useRecordings(bench, keepAndFollow);
  const handsFree = useHandsFree(bench, string, from === "simulated" ? "simulated" : "microphone", {
    keepReading: keepAndFollow,
  });
  const playing = useSimulatedPlaying(instrumentId, from === "simulated", (source) =>
    handsFree.listenTo(source.open),
  );

  const choose = (to: string) => {
    setChosen(to);
    line.setText("");
    entries.forgetError();
  };
  const stepBy = (by: number) => {
    const place = strings.findIndex((each) => each.name === name);
    const next = strings[(place + by + strings.length) % strings.length];
    if (next !== undefined) choose(next.name);
  };
  const keepMove = (move: MoveMade) => {
    if (string !== null) entries.keepMove(string.name, move);
    line.focus();
  };
  const keepSure = () => {
    const last = bench?.last_heard[string?.name ?? ""];
    if (string !== null && last !== undefined) {
      void keepAndFollow({ id: newId(), string: string.name, heard: last, sure_of_string: true });
    }
  };
  const answerQuestion = (option: Option) => {
    if (string === null) return;
    const { heard, string: other, sure_of_string } = option.set;
    if (typeof other === "string") {
      const last = bench?.last_heard[string.name];
      if (string.reading !== null) entries.strike({ kind: "reading", id: string.reading.id });
      if (last !== undefined) void keepAndFollow({ id: newId(), string: other, heard: last });
    } else if (heard !== undefined) {
      const told = heard as NonNullable<NewReading["heard"]>;
      void keepAndFollow({
        id: newId(),
        string: string.name,
        heard: told,
        sure_of_string: sure_of_string === true,
      });
    } else if (sure_of_string === true) keepSure();
    else if (string.moved !== null) {
      entries.answerMove({ id: string.moved.id, answer: option.answer as MoveAnswer });
    }
    line.focus();
  };
  const keepTyped = () => {
    if (string === null) return;
    if (line.text.trim() === "") {
      const first = string.pending === null ? string.advice?.steps[0] : undefined;
      if (first !== undefined && isDone(first)) keepMove(asMade(first));
      return;
    }
    const said = string.pending === null ? answerSaid(string, line.text) : null;
    if (said !== null) {
      answerQuestion(said);
      line.setText("");
      return;
    }
    void keepAndFollow({ id: newId(), string: string.name, typed: line.text }).then(
      () => {
        line.setText("");
      },
      () => undefined,
    );
  };

  usePageKeys({
    answer: (place) => {
      const option = string?.pending === null ? questionOf(string)?.options[place] : undefined;
      if (option !== undefined) answerQuestion(option);
    },
    stepBy,
    openKeys: setKeysOpen,
    keysOpen,
    strikeLast: entries.strikeLast,
    listening: handsFree.on,
    takeNow: handsFree.takeNow,
    hold: handsFree.hold,
  });

  const hearFiles = (files: File[]) => {
    void recordings.hearAll(files);
  };
  return {
    string,
    strings,
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
    strike: entries.strike,
    restore: entries.restore,
    newTuning: () => {
      setChosen(null);
      entries.newTuning();
    },
    changeSettings: entries.changeSettings,
    changeFittings: entries.changeFittings,
    answerQuestion,
    keepSide: (typed: string) => {
      if (string !== null) void keepAndFollow({ id: newId(), string: string.name, typed });
      line.focus();
    },
    goOn:
      bench?.next_string == null || bench.next_string === name
        ? null
        : () => {
            choose(bench.next_string ?? "");
          },
    entry: {
      inputRef: line.inputRef,
      text: line.text,
      error: entries.error,
      sending: entries.sending,
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
