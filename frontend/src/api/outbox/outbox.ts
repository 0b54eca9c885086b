import { Away, Refused, SignedOut } from "../client";
import { pauseMs } from "../policy";
import type { NewEntry, Waiting } from "./entry";

/** Where entries are kept while they wait. */
export interface Shelf {
  put: (entry: Waiting) => Promise<void>;
  remove: (id: string) => Promise<void>;
  all: () => Promise<Waiting[]>;
}

interface OutboxNeeds<Answer> {
  shelf: Shelf;
  /** Sends one entry; Away where the server doesn't answer, SignedOut where nobody is, Refused where it won't have it. */
  send: (entry: Waiting) => Promise<Answer>;
  /** The studio of this page: what was entered in another waits until that one answers here again. */
  studio: () => string | null;
  /** An entry was stored, and this is what it was answered with. */
  onStored: (entry: Waiting, answer: Answer) => void;
  pause?: (ms: number) => Promise<void>;
}

interface Caller<Answer> {
  stored: (answer: Answer) => void;
  failed: (error: Error) => void;
}

/**
 * Everything that is entered goes through here: kept at once, sent one after the other in the order it was entered, tried
 * until the server has it or refuses it, across reloads. Sending twice does no harm, as the server stores an id once.
 */
export class Outbox<Answer> {
  private entries: Waiting[] = [];
  private elsewhere: Waiting[] = [];
  private readonly callers = new Map<string, Caller<Answer>>();
  private readonly told = new Set<() => void>();
  private readonly tried = new Set<string>();
  private order = 0;
  private running = false;
  private wake: (() => void) | null = null;

  constructor(private readonly needs: OutboxNeeds<Answer>) {}

  /** What waits and what was refused, oldest first; the same array until something changes. */
  readonly seen = (): readonly Waiting[] => this.entries;

  /** What waits for another studio that stood at this address. */
  readonly seenElsewhere = (): readonly Waiting[] => this.elsewhere;

  readonly subscribe = (tell: () => void): (() => void) => {
    this.told.add(tell);
    return () => this.told.delete(tell);
  };

  /** Take up what an earlier page left, in front of what this one has entered. */
  async takeUp(mine: (entry: Waiting) => Waiting): Promise<void> {
    const here = this.needs.studio();
    const kept = (await this.needs.shelf.all())
      .filter((entry) => !this.entries.some((own) => own.id === entry.id))
      .sort((one, other) => one.order - other.order);
    const isHere = ({ studio }: Waiting) => studio === undefined || studio === null || studio === here;
    this.elsewhere = kept.filter((entry) => !isHere(entry));
    const left = kept.filter(isHere).map(mine);
    this.set([...left, ...this.entries]);
    this.order = Math.max(this.order, ...left.map((entry) => entry.order));
    void this.run();
  }

  /** The answer once it is stored; Refused where the server won't have it: then it stays in sight until it is dropped. */
  put(entry: NewEntry): Promise<Answer> {
    this.order = Math.max(this.order + 1, Date.now());
    const waiting: Waiting = { ...entry, order: this.order, refused: null, studio: this.needs.studio() };
    void this.needs.shelf.put(waiting);
    this.set([...this.entries, waiting]);
    return new Promise((stored, failed) => {
      this.callers.set(entry.id, { stored, failed });
      void this.run();
    });
  }

  /** Take back an entry that was never sent, or clear away a refused one. False where it is on its way. */
  drop(id: string): boolean {
    const entry = this.entries.find((each) => each.id === id);
    if (entry === undefined || (entry.refused === null && this.tried.has(id))) return false;
    this.remove(id);
    this.callers.get(id)?.failed(new Refused("Taken back before it was sent.", null));
    this.callers.delete(id);
    return true;
  }

  /** Leave out what waits for another studio. */
  dropElsewhere(id: string): void {
    void this.needs.shelf.remove(id);
    this.elsewhere = this.elsewhere.filter((entry) => entry.id !== id);
    this.set(this.entries);
  }

  /** Send a refused entry once more. */
  again(id: string): void {
    this.set(this.entries.map((entry) => (entry.id === id ? { ...entry, refused: null } : entry)));
    void this.run();
  }

  /** Try again now, not only after the pause. */
  readonly kick = (): void => {
    this.wake?.();
  };

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    let failures = 0;
    for (let entry = this.first(); entry !== undefined; entry = this.first()) {
      this.tried.add(entry.id);
      try {
        const answer = await this.needs.send(entry);
        failures = 0;
        this.stored(entry, answer);
      } catch (error) {
        if (error instanceof Away || error instanceof SignedOut) await this.rest(pauseMs(failures++));
        else this.refuse(entry, error instanceof Error ? error : new Error(String(error)));
      }
    }
    this.running = false;
  }

  private first(): Waiting | undefined {
    return this.entries.find((entry) => entry.refused === null);
  }

  private stored(entry: Waiting, answer: Answer): void {
    this.remove(entry.id);
    this.needs.onStored(entry, answer);
    this.callers.get(entry.id)?.stored(answer);
    this.callers.delete(entry.id);
  }

  private refuse(entry: Waiting, error: Error): void {
    const refused = { ...entry, refused: error.message };
    void this.needs.shelf.put(refused);
    this.set(this.entries.map((each) => (each.id === entry.id ? refused : each)));
    this.callers.get(entry.id)?.failed(error);
    this.callers.delete(entry.id);
  }

  private rest(ms: number): Promise<void> {
    if (this.needs.pause !== undefined) return this.needs.pause(ms);
    return new Promise((resolve) => {
      const done = () => {
        clearTimeout(timer);
        this.wake = null;
        resolve();
      };
      const timer = setTimeout(done, ms);
      this.wake = done;
    });
  }

  private remove(id: string): void {
    void this.needs.shelf.remove(id);
    this.set(this.entries.filter((entry) => entry.id !== id));
  }

  private set(entries: Waiting[]): void {
    this.entries = entries;
    for (const tell of this.told) tell();
  }
}
