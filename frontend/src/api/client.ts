import createClient from "openapi-fetch";

import { setAway, tellSignedOut } from "./connection";
import type { components, paths } from "./schema";
import { learnStudio, marked } from "./studio";

export type Bench = components["schemas"]["BenchOut"];
export type StringBench = components["schemas"]["BenchOut.StringView"];
export type FifthBench = components["schemas"]["BenchOut.FifthView"];
export type Step = components["schemas"]["BenchOut.Step"];
export type HistoryEntry = components["schemas"]["BenchOut.HistoryEntry"];
export type RestOfRound = components["schemas"]["BenchOut.PlanView"];
export type Tuning = components["schemas"]["BenchOut.TuningOut"];
export type KindFacts = components["schemas"]["KindList.KindOut"];
export type Choices = components["schemas"]["KindList.Choices"];
export type Hold = components["schemas"]["BenchOut.HoldView"];
export type NewReading = components["schemas"]["NewReading"];
export type NewMove = components["schemas"]["NewMove"];
export type TuningSettings = components["schemas"]["TuningSettings"];
export type StringFittings = components["schemas"]["StringFittings"];
export type Option = Step["options"][number];
export type MoveAnswer = components["schemas"]["MoveAnswer"]["answer"];
export type Heard = components["schemas"]["RecordingHeard"];

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: (input: Request) => asking(input) });

/** The server refused, with a sentence for the person and the field it speaks of. */
export class Refused extends Error {
  readonly field: string | null;
  constructor(message: string, field: string | null) {
    super(message);
    this.field = field;
  }
}

/** The server or its database can't be reached just now; what was sent is not stored yet. */
export class Away extends Error {
  constructor(message = "Pondus doesn't answer just now; it keeps trying.") {
    super(message);
  }
}

/** Nobody is signed in on this device any more. What was sent is not stored, and waits until someone is. */
export class SignedOut extends Error {}

const COMING_IN = ["/api/sign-in", "/api/join", "/api/passphrase"];
const ANSWERS_WITHIN_MS = 12_000;

/** A request that gives up on a server which takes it and never answers. */
export async function asking(input: Request): Promise<Response> {
  const signal = AbortSignal.any([input.signal, AbortSignal.timeout(ANSWERS_WITHIN_MS)]);
  const answer = await fetch(new Request(input, { signal, headers: marked(input.headers) }));
  learnStudio(answer);
  return answer;
}

/** A file or a list, on its way for as long as it takes. */
export function sending(path: string, sent: RequestInit): Promise<Response> {
  return fetch(path, { ...sent, headers: marked(sent.headers) });
}

interface Outcome<T> {
  data?: T | undefined;
  error?: unknown;
  response: Response;
}

/** The data of a call, or an error with a sentence in it. */
export async function answered<T>(call: Promise<Outcome<T>>): Promise<T> {
  let outcome: Outcome<T>;
  try {
    outcome = await call;
  } catch {
    setAway(true);
    throw new Away();
  }
  const isAway = AWAY_STATUSES.includes(outcome.response.status);
  setAway(isAway);
  if (outcome.data !== undefined && outcome.response.ok) return outcome.data;
  const { message, field } = sentenceIn(outcome.error);
  if (isAway) throw new Away(message ?? undefined);
  if (outcome.response.status === STRANGER && !COMING_IN.includes(new URL(outcome.response.url).pathname)) {
    tellSignedOut();
    throw new SignedOut(message ?? "Sign in first.");
  }
  throw new Refused(message ?? "That didn't work; try again.", field);
}

const STRANGER = 401;

/** The server, its database or the way to it is overrun or away, or another studio stands there: the same request is worth another try. */
const AWAY_STATUSES = [408, 421, 429, 502, 503, 504];

function sentenceIn(error: unknown): { message: string | null; field: string | null } {
  const inner = (error as { error?: { message?: string; field?: string | null } } | undefined)?.error;
  return { message: inner?.message ?? null, field: inner?.field ?? null };
}

/** On which state of the log an entry is made, and in which tab. */
export function madeOn(seen: { log_version: number } | undefined): { made_on?: number; device?: string } {
  return seen === undefined ? {} : { made_on: seen.log_version, device: thisTab() };
}

let tab: string | null = null;

/** This tab of the browser, also after a reload: what it entered itself never makes its own later entries late. */
export function thisTab(): string {
  tab ??= storedTab();
  return tab;
}

function storedTab(): string {
  const fresh = newId();
  try {
    const stored = sessionStorage.getItem("pondus-tab") ?? fresh;
    sessionStorage.setItem("pondus-tab", stored);
    return stored;
  } catch {
    return fresh;
  }
}

/** An id for a new record; also where the page is not secure and `crypto.randomUUID` is missing. */
export function newId(): string {
  if (typeof crypto.randomUUID === "function") return crypto.randomUUID();
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}
