import type { Action, Go } from "../api/practice";
import { refOf } from "../api/practice";

const VOLUME = "pondus-volume";
const USUAL_VOLUME = 0.5;
const LOUDEST = 0.9;

/** How loud practice sounds, from 0 to 1; as it was chosen on this device. */
function storedVolume(): number {
  const stored = Number(localStorage.getItem(VOLUME) ?? USUAL_VOLUME);
  return Number.isFinite(stored) ? Math.min(LOUDEST, Math.max(0.05, stored)) : USUAL_VOLUME;
}

/** Whether someone has found the volume right on this device already. */
export function volumeChosen(): boolean {
  return localStorage.getItem(VOLUME) !== null;
}

/** Remember how loud it is to be. */
export function keepVolume(volume: number): void {
  localStorage.setItem(VOLUME, String(volume));
}

/** Plays what practice sounds like, at the chosen volume. One thing at a time, but for a tone that sounds along. */
export class Loudspeaker {
  private context: AudioContext | null = null;
  private gain: GainNode | null = null;
  private playing: AudioBufferSourceNode | null = null;
  private along: AudioBufferSourceNode | null = null;
  private playAt = 0;
  volume = storedVolume();

  private async open(): Promise<{ context: AudioContext; gain: GainNode }> {
    const context = this.context ?? new AudioContext();
    const gain = this.gain ?? context.createGain();
    if (this.context === null) {
      gain.connect(context.destination);
      this.context = context;
      this.gain = gain;
    }
    gain.gain.value = this.volume;
    await context.resume();
    return { context, gain };
  }

  /**
   * Let sound begin at the next press, until it is closed: some browsers let none begin but then, and what is to be played often
   * comes a moment later.
   */
  readyAtPress(): void {
    document.addEventListener("click", this.atPress, true);
    document.addEventListener("keydown", this.atPress, true);
  }

  private readonly atPress = () => {
    void this.open();
  };

  /** Louder or softer, from now on. */
  setVolume(volume: number): void {
    this.volume = volume;
    if (this.gain !== null) this.gain.gain.value = volume;
  }

  /** Play a WAV file; `whenDone` is told at its end. `loop`: again and again beside the rest, until it is stopped. */
  async play(wav: ArrayBuffer, { loop = false, whenDone }: { loop?: boolean; whenDone?: () => void } = {}) {
    const { context, gain } = await this.open();
    const buffer = await context.decodeAudioData(wav.slice(0));
    const node = context.createBufferSource();
    node.buffer = buffer;
    node.loop = loop;
    node.connect(gain);
    if (loop) {
      this.along?.stop();
      this.along = node;
    } else {
      this.playing?.stop();
      this.playing = node;
      node.onended = () => {
        if (this.playing === node) this.playing = null;
        whenDone?.();
      };
    }
    node.start();
  }

  /** The tone that sounds along ends. */
  stopAlong(): void {
    this.along?.stop();
    this.along = null;
  }

  /** A tone to set the volume by. */
  async check(): Promise<void> {
    const { context, gain } = await this.open();
    const tone = context.createOscillator();
    const shape = context.createGain();
    tone.type = "triangle";
    tone.frequency.value = 440;
    shape.gain.setValueAtTime(0, context.currentTime);
    shape.gain.linearRampToValueAtTime(0.5, context.currentTime + 0.05);
    shape.gain.setTargetAtTime(0, context.currentTime + 1.2, 0.1);
    tone.connect(shape).connect(gain);
    tone.start();
    tone.stop(context.currentTime + 1.8);
  }

  /** A block of 16-bit PCM, right after the one before. */
  async block(pcm: ArrayBuffer, rate: number): Promise<void> {
    const { context, gain } = await this.open();
    const samples = new Int16Array(pcm);
    const buffer = context.createBuffer(1, samples.length, rate);
    buffer.copyToChannel(
      Float32Array.from(samples, (value) => value / 32768),
      0,
    );
    const node = context.createBufferSource();
    node.buffer = buffer;
    node.connect(gain);
    this.playAt = Math.max(this.playAt, context.currentTime + 0.02);
    node.start(this.playAt);
    this.playAt += buffer.duration;
  }

  close(): void {
    document.removeEventListener("click", this.atPress, true);
    document.removeEventListener("keydown", this.atPress, true);
    void this.context?.close();
    this.context = null;
    this.gain = null;
    this.playing = null;
    this.along = null;
  }
}

const RATE = 44_100;

/** The instrument in hand while it is bowed: it sounds on as it is turned. */
export class BowedInHand {
  private socket: WebSocket | null = null;
  /** No socket opens here: sound goes by ordinary requests. */
  refused = false;
  private onEnd: () => void = () => undefined;

  constructor(private readonly loudspeaker: Loudspeaker) {}

  /** Who is told when it has gone quiet by itself. */
  whenQuiet(told: () => void): void {
    this.onEnd = told;
  }

  /** Bow from now on; `actions` is what was done so far. */
  start(go: Go, actions: Action[], strings: string[] | null): void {
    this.stop();
    const socket = new WebSocket(`${window.location.origin.replace(/^http/, "ws")}/api/practice/live`);
    socket.binaryType = "arraybuffer";
    this.socket = socket;
    socket.onopen = () => {
      socket.send(JSON.stringify({ go: refOf(go), actions, sample_rate: RATE }));
      socket.send(JSON.stringify({ sounds: true, how: "bow", strings }));
    };
    socket.onmessage = (event: MessageEvent<ArrayBuffer | string>) => {
      if (typeof event.data !== "string") void this.loudspeaker.block(event.data, RATE);
    };
    socket.onclose = () => {
      if (this.socket === socket) {
        this.socket = null;
        this.refused = true;
        this.onEnd();
      }
    };
  }

  /** What is turned is heard at once. */
  turn(action: Action): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify({ action }));
  }

  stop(): void {
    const socket = this.socket;
    this.socket = null;
    socket?.close();
  }
}
