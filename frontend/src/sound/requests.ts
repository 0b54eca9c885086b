import type { components } from "../api/schema";
import { answered, api, Away } from "../api/client";
import type { FifthLook, FifthSettled, Hearing, ListenTo, Look, Settled } from "./socket";

type Body = components["schemas"]["SoundSoFar"];
type Told = Pick<Body, "told" | "told_fifth" | "own_levels_db">;
type Sent = Body["listen"];
/** As the socket says it: two strings are a pair there. */
type Heard = Told & { look: Look | FifthLook | null; settled: Settled | FifthSettled | null; until: number };

const EVERY_MS = 350;
const KEPT_SECONDS = 2.5;

/** Sound by ordinary requests: the last seconds of it again and again, from where the last reading settled. */
export class SoundRequests {
  private blocks: Int16Array[] = [];
  private told: Told = { told: null, told_fifth: null, own_levels_db: [] };
  private closed = false;
  private isReady = false;
  /** How many samples were let go of, in all. */
  private dropped = 0;

  constructor(
    private readonly to: ListenTo,
    private readonly hearing: Hearing,
  ) {
    void this.run();
  }

  send(block: ArrayBuffer): void {
    this.blocks.push(new Int16Array(block));
    this.drop(this.length() - KEPT_SECONDS * this.to.sample_rate);
  }

  close(): void {
    this.closed = true;
  }

  private async run(): Promise<void> {
    while (!this.closed) {
      await this.ask();
      await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
    }
  }

  private async ask(): Promise<void> {
    const sound = this.whole();
    if (sound.length === 0) return;
    const droppedBefore = this.dropped;
    try {
      const heard = (await answered(
        api.POST("/api/listen/sound", { body: { listen: this.to as Sent, sound: base64(sound), ...this.told } }),
      )) as Heard;
      if (this.isClosed()) return;
      if (!this.isReady) this.hearing.onReady();
      this.isReady = true;
      this.told = { told: heard.told, told_fifth: heard.told_fifth, own_levels_db: heard.own_levels_db };
      if (heard.look !== null) this.hearing.onLook(heard.look);
      this.drop(heard.until - (this.dropped - droppedBefore));
      if (heard.settled !== null) this.hearing.onSettled(heard.settled);
    } catch (error) {
      if (this.isClosed()) return;
      if (error instanceof Away) {
        this.isReady = false;
        this.hearing.onLost();
      } else {
        this.closed = true;
        this.hearing.onRefused(error instanceof Error ? error.message : String(error));
      }
    }
  }

  /** It may have been closed while an answer was waited for. */
  private isClosed(): boolean {
    return this.closed;
  }

  private length(): number {
    return this.blocks.reduce((sum, block) => sum + block.length, 0);
  }

  private whole(): Int16Array {
    const whole = new Int16Array(this.length());
    let at = 0;
    for (const block of this.blocks) {
      whole.set(block, at);
      at += block.length;
    }
    return whole;
  }

  /** Let go of the oldest samples. */
  private drop(samples: number): void {
    let extra = Math.min(this.length(), Math.floor(samples));
    this.dropped += Math.max(0, extra);
    while (extra > 0) {
      const [first] = this.blocks;
      if (first === undefined) return;
      if (first.length <= extra) this.blocks.shift();
      else this.blocks[0] = first.subarray(extra);
      extra -= first.length;
    }
  }
}

function base64(sound: Int16Array): string {
  const bytes = new Uint8Array(sound.buffer, sound.byteOffset, sound.byteLength);
  let text = "";
  for (let at = 0; at < bytes.length; at += 8192) {
    text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  }
  return btoa(text);
}
