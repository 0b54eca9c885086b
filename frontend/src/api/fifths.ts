import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { Away, Refused, answered, api, sending } from "./client";

export type Fifths = components["schemas"]["FifthsOut"];
export type ChainString = components["schemas"]["FifthsOut.ChainStringView"];
export type ChainLink = components["schemas"]["FifthsOut.LinkView"];
export type FifthSound = components["schemas"]["FifthsOut.SoundView"];
export type FifthCheck = components["schemas"]["FifthsOut.CheckLine"];
export type NewCheck = components["schemas"]["NewFifthCheck"];
type Member = components["schemas"]["EnsembleIn.MemberIn"];

const keyOf = (tuningId: string) => ["fifths", tuningId];

/** The chain of fifths of a tuning. `changed`: asked anew when the bench has changed. */
export function useFifths(tuningId: string | undefined, changed: number) {
  return useQuery({
    queryKey: [...keyOf(tuningId ?? ""), changed],
    enabled: tuningId !== undefined,
    placeholderData: (before: Fifths | undefined) => before,
    queryFn: () => answered(api.GET("/api/tunings/{tuning_id}/fifths", { params: { path: { tuning_id: tuningId ?? "" } } })),
  });
}

/** Keep a check of a fifth, a recording of one, or strike one out; each is sent until the server has it or refuses it. */
export function useFifthChecks(tuningId: string | undefined, instrumentId: string) {
  const queries = useQueryClient();
  const shared = {
    scope: { id: `bench-${instrumentId}` },
    onSuccess: () => queries.invalidateQueries({ queryKey: ["bench", instrumentId] }),
  };
  const path = { tuning_id: tuningId ?? "" };
  const keep = useMutation({
    ...shared,
    mutationFn: (body: NewCheck) => answered(api.POST("/api/tunings/{tuning_id}/fifths", { params: { path }, body })),
  });
  const record = useMutation({
    ...shared,
    mutationFn: ({ id, file }: { id: string; file: File }) => sendRecording(tuningId ?? "", id, file),
  });
  const strike = useMutation({
    ...shared,
    mutationFn: ({ id, back }: { id: string; back: boolean }) => {
      const given = { params: { path: { check_id: id } } };
      return back
        ? answered(api.DELETE("/api/fifths/{check_id}/strike", given))
        : answered(api.POST("/api/fifths/{check_id}/strike", { ...given, body: {} }));
    },
  });
  return { keep, record, strike };
}

function sendRecording(tuningId: string, id: string, file: File): Promise<Fifths> {
  const form = new FormData();
  form.set("file", file);
  form.set("id", id);
  return sendForm<Fifths>(`/api/tunings/${tuningId}/fifths/recording`, form);
}

/** Where several instruments, each with its reference and school, clash. */
export function useEnsemble(members: Member[], a4: number) {
  return useQuery({
    queryKey: ["ensemble", a4, members],
    enabled: members.length > 1,
    queryFn: () => answered(api.POST("/api/ensemble", { body: { members, a4 } })),
  });
}

export type Ensemble = NonNullable<ReturnType<typeof useEnsemble>["data"]>;

/** Where a harmonic sounds in a recording, in Hz. */
export async function hearHarmonic(file: File, nearHz: number): Promise<number> {
  const form = new FormData();
  form.set("file", file);
  form.set("near_hz", String(nearHz));
  const answer = await sendForm<{ hz: number }>("/api/harmonic", form);
  return answer.hz;
}

export type MicrophoneChecked = components["schemas"]["MicrophoneCheck"];

/** What a microphone will manage: a recording of the room, of one string from `first` seconds on, of another from `second` on. */
export function checkMicrophone(sound: Blob, instrument: string, first: number, second: number): Promise<MicrophoneChecked> {
  const form = new FormData();
  form.set("file", sound, "microphone.wav");
  form.set("instrument", instrument);
  form.set("first_at", String(first));
  form.set("second_at", String(second));
  return sendForm("/api/microphone", form);
}

/** A recording sent to be heard. */
export async function sendForm<T>(path: string, form: FormData): Promise<T> {
  let response: Response;
  try {
    response = await sending(path, { method: "POST", body: form });
  } catch {
    throw new Away("The recording could not be sent; Pondus doesn't answer just now.");
  }
  const answer = (await response.json()) as T & { error?: { message: string } };
  if (!response.ok) throw new Refused(answer.error?.message ?? "That recording could not be heard.", "file");
  return answer;
}
