import { useCallback, useEffect, useRef, useState } from "react";

import type { Tuning } from "../api/client";
import type { OpenMicrophone } from "./microphone";
import { openMicrophone } from "./microphone";
import type { FifthLook, FifthSettled, Look, Settled } from "./socket";
import type { Listening } from "./listening";
import { openListening } from "./listening";
import { useAwake } from "./useAwake";

export type ListeningState =
  | { status: "off" }
  | { status: "opening" }
  | { status: "listening"; bends: string | null }
  | { status: "lost" }
  | { status: "trouble"; message: string };

/** What opens a source of sound: a microphone, or what stands in for one. */
type OpenSource = typeof openMicrophone;

interface Heard {
  string: { look: Look; settled: Settled };
  fifth: { look: FifthLook; settled: FifthSettled };
}

/** The tone that sounds out of this device meanwhile: of which string, how many octaves up. */
interface BesideTone {
  string: string;
  octaves: number;
}

/** The microphone, heard by the server: single strings, or two together. `onSettled` is told of what has held. */
export function useListening<For extends "string" | "fifth">(
  listenFor: For,
  kind: string | undefined,
  tuning: Pick<Tuning, "a4" | "fifth_cents" | "spelling"> | undefined,
  onSettled: (settled: Heard[For]["settled"]) => void,
  beside: BesideTone | null = null,
) {
  const [state, setState] = useState<ListeningState>({ status: "off" });
  const [look, setLook] = useState<Heard[For]["look"] | null>(null);
  useAwake(state.status === "listening" || state.status === "lost");
  const microphone = useRef<OpenMicrophone | null>(null);
  const socket = useRef<Listening | null>(null);
  const source = useRef<OpenSource | null>(null);
  const settled = useRef(onSettled);
  useEffect(() => {
    settled.current = onSettled;
  });

  const close = useCallback(() => {
    socket.current?.close();
    microphone.current?.close();
    socket.current = null;
    microphone.current = null;
    setLook(null);
  }, []);

  // Only what the listener is told; not every change of the tuning starts it anew.
  const { a4, fifth_cents, spelling } = tuning ?? { a4: 440, fifth_cents: 700, spelling: "sharps" };
  const string = beside?.string ?? null;
  const octaves = beside?.octaves ?? null;
  const connect = useCallback(
    (sampleRate: number) => {
      if (kind === undefined) return;
      socket.current?.close();
      const target = { fifth_cents };
      const to = {
        instrument: kind,
        string,
        a4,
        target,
        sample_rate: sampleRate,
        spelling,
        listen_for: listenFor,
        beside_tone: octaves,
      };
      socket.current = openListening(to, {
        onReady: () => {
          setState({ status: "listening", bends: microphone.current?.bends ?? null });
        },
        // The server answers in kind: it was told what to listen for.
        onLook: (heard) => {
          setLook(heard as Heard[For]["look"]);
        },
        onSettled: (heard) => {
          settled.current(heard as Heard[For]["settled"]);
        },
        onLost: () => {
          setLook(null);
          setState({ status: "lost" });
        },
        onRefused: (message) => {
          close();
          setState({ status: "trouble", message });
        },
      });
    },
    [listenFor, kind, a4, fifth_cents, spelling, string, octaves, close],
  );

  const start = useCallback(
    async (open: OpenSource = openMicrophone) => {
      close();
      setState({ status: "opening" });
      try {
        const opened = await open(
          (block) => socket.current?.send(block),
          (message) => {
            close();
            setState({ status: "trouble", message });
          },
        );
        microphone.current = opened;
        source.current = open;
        connect(opened.sampleRate);
      } catch (error) {
        close();
        setState({ status: "trouble", message: error instanceof Error ? error.message : "No microphone." });
      }
    },
    [connect, close],
  );

  /** From here on as if for the first time: what was heard before is forgotten, how loud it was too. */
  const listenAnew = useCallback(() => {
    if (microphone.current !== null) connect(microphone.current.sampleRate);
  }, [connect]);
  useEffect(listenAnew, [listenAnew]);
  useEffect(() => close, [close]);

  const stop = useCallback(() => {
    close();
    setState({ status: "off" });
  }, [close]);
  /** Listen to a source, unless that is being done already. */
  const listenTo = useCallback(
    async (open: OpenSource) => {
      if (microphone.current === null || source.current !== open) await start(open);
    },
    [start],
  );
  return { state, look, start, stop, listenTo, listenAnew };
}
