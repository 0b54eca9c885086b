import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

export type Bench = components["schemas"]["BenchOut"];
export type StringBench = components["schemas"]["BenchOut.StringBench"];
export type FifthBench = components["schemas"]["BenchOut.FifthBench"];
export type Advice = components["schemas"]["BenchOut.AdviceResult"];
export type Step = components["schemas"]["BenchOut.StepResult"];
export type MoveDone = components["schemas"]["BenchOut.MoveOut"];
export type HistoryEntry = components["schemas"]["BenchOut.HistoryEntry"];
export type RestOfRound = components["schemas"]["BenchOut.PlanOut"];
export type Tuning = components["schemas"]["BenchOut.TuningOut"];
export type Instrument = components["schemas"]["InstrumentOut"];
export type KindFacts = components["schemas"]["KindList.KindOut"];
export type Choices = components["schemas"]["KindList.Choices"];
export type Hold = components["schemas"]["BenchOut.HoldOut"];
export type NewReading = components["schemas"]["NewReading"];
export type NewMove = components["schemas"]["NewMove"];
export type TuningSettings = components["schemas"]["TuningSettings"];
export type StringFittings = components["schemas"]["StringFittings"];
export type Option = Step["options"][number];
export type MoveAnswer = components["schemas"]["MoveAnswer"]["answer"];
export type Heard = components["schemas"]["HearingResult"];

export const api = createClient<paths>({ baseUrl: window.location.origin });

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
    throw new Away();
  }
  if (outcome.data !== undefined && outcome.response.ok) return outcome.data;
  const { message, field } = sentenceIn(outcome.error);
  if ([502, 503, 504].includes(outcome.response.status)) throw new Away(message ?? undefined);
  throw new Refused(message ?? "That didn't work; try again.", field);
}

function sentenceIn(error: unknown): { message: string | null; field: string | null } {
  const inner = (error as { error?: { message?: string; field?: string | null } } | undefined)?.error;
  return { message: inner?.message ?? null, field: inner?.field ?? null };
}

/** This page: what it entered itself never makes its own later entries late. */
let page: string | null = null;

/** On which state of the log an entry is made, and by which page. */
export function madeOn(seen: { log_version: number } | undefined): { made_on?: number; device?: string } {
  if (seen === undefined) return {};
  page ??= newId();
  return { made_on: seen.log_version, device: page };
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
