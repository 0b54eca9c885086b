import type { OpenMicrophone } from "./microphone";
import { NoMicrophone } from "./microphone";

export type How = "bow" | "pluck";

/** A simulated instrument that sounds like a microphone: heard in the room, and passed on to whoever listens. */
export class SimulatedSource {
  private socket: WebSocket | null = null;
  private context: AudioContext | null = null;
  private playAt = 0;

  constructor(private readonly instrumentId: string) {}

  /** Open it as a microphone is opened; blocks of 16-bit PCM arrive until it is closed. */
  open = async (onBlock: (block: ArrayBuffer) => void, onGone: (message: string) => void): Promise<OpenMicrophone> => {
    const context = new AudioContext();
    this.context = context;
    await context.resume();
    const socket = new WebSocket(`${window.location.origin.replace(/^http/, "ws")}/api/simulated/live`);
    socket.binaryType = "arraybuffer";
    this.socket = socket;
    await new Promise<void>((resolve, reject) => {
      socket.onopen = () => {
        socket.send(JSON.stringify({ instrument_id: this.instrumentId, sample_rate: Math.round(context.sampleRate) }));
        resolve();
      };
      socket.onerror = () => {
        reject(new NoMicrophone("The simulated instrument doesn't answer just now; try again."));
      };
    });
    socket.onmessage = (event: MessageEvent<ArrayBuffer | string>) => {
      if (typeof event.data === "string") return;
      this.sound(event.data);
      onBlock(event.data);
    };
    socket.onclose = () => {
      if (this.socket === socket) onGone("The simulated instrument has gone quiet; bow it again.");
    };
    return {
      sampleRate: Math.round(context.sampleRate),
      bends: null,
      close: () => {
        this.close();
      },
    };
  };

  /** Sound these strings from now on; none: silence. */
  play(strings: string[], how: How): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify({ strings, how }));
  }

  private close(): void {
    const socket = this.socket;
    this.socket = null;
    socket?.close();
    void this.context?.close();
    this.context = null;
  }

  /** Play a block through the loudspeaker, right after the one before. */
  private sound(block: ArrayBuffer): void {
    const context = this.context;
    if (context === null) return;
    const pcm = new Int16Array(block);
    const buffer = context.createBuffer(1, pcm.length, context.sampleRate);
    buffer.copyToChannel(
      Float32Array.from(pcm, (value) => value / 32768),
      0,
    );
    const node = context.createBufferSource();
    node.buffer = buffer;
    node.connect(context.destination);
    this.playAt = Math.max(this.playAt, context.currentTime + 0.02);
    node.start(this.playAt);
    this.playAt += buffer.duration;
  }
}
