import type { components } from "../api/schema";

export type Look = components["schemas"]["ListenMessages.LookMessage"];
export type Settled = components["schemas"]["ListenMessages.SettledMessage"];
export type FifthLook = components["schemas"]["ListenMessages.FifthMessage"];
export type FifthSettled = components["schemas"]["ListenMessages.FifthSettledMessage"];
type Message = components["schemas"]["ListenMessages"]["message"];

export interface ListenTo {
  instrument: string;
  string: string | null;
  a4: number;
  target: { fifth_cents: number };
  sample_rate: number;
  spelling: string;
  listen_for: "string" | "fifth";
  beside_tone: number | null;
}

export interface Hearing {
  onReady: () => void;
  onLook: (look: Look | FifthLook) => void;
  onSettled: (settled: Settled | FifthSettled) => void;
  /** The connection is lost; it is tried again by itself. */
  onLost: () => void;
  /** The server won't listen, and says why. */
  onRefused: (message: string) => void;
  /** The socket closed before it was ever ready. */
  onNeverReady?: () => void;
}

const TRY_AGAIN_MS = 1000;
const MOST_WAITING_BYTES = 400_000;

/** A connection to the listening server that comes back by itself when it is lost. */
export class ListeningSocket {
  private socket: WebSocket | null = null;
  private ready = false;
  private wasReady = false;
  private closed = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly to: ListenTo,
    private readonly hearing: Hearing,
  ) {
    this.connect();
  }

  /** Send a block of 16-bit PCM; dropped while there is no connection or the line is stuck. */
  send(block: ArrayBuffer): void {
    if (this.socket === null || !this.ready || this.socket.bufferedAmount > MOST_WAITING_BYTES) return;
    this.socket.send(block);
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    this.socket?.close();
  }

  private connect(): void {
    const socket = new WebSocket(`${window.location.origin.replace(/^http/, "ws")}/api/listen`);
    this.socket = socket;
    socket.onopen = () => {
      socket.send(JSON.stringify(this.to));
    };
    socket.onmessage = (event: MessageEvent<string>) => {
      this.take(JSON.parse(event.data) as Message);
    };
    socket.onclose = () => {
      this.ready = false;
      if (this.closed) return;
      if (!this.wasReady) this.hearing.onNeverReady?.();
      this.hearing.onLost();
      this.timer = setTimeout(() => {
        this.connect();
      }, TRY_AGAIN_MS);
    };
  }

  private take(message: Message): void {
    switch (message.type) {
      case "ready":
        this.ready = this.wasReady = true;
        this.hearing.onReady();
        break;
      case "reading":
      case "fifth":
        this.hearing.onLook(message);
        break;
      case "settled":
      case "fifth-settled":
        this.hearing.onSettled(message);
        break;
      case "refused":
        this.closed = true;
        this.hearing.onRefused(message.message);
    }
  }
}
