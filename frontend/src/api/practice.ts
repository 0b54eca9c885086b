import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api, Away, newId } from "./client";

export type Practice = components["schemas"]["PracticeOut"];
export type Drill = components["schemas"]["PracticeOut.DrillOut"];
export type Practiser = components["schemas"]["PracticeOut.PractiserOut"];
export type Point = components["schemas"]["PracticeOut.Point"];
export type Go = components["schemas"]["GoOut"];
export type Question = components["schemas"]["GoOut.QuestionOut"];
export type Task = NonNullable<Question["task"]>;
export type Judged = components["schemas"]["GoOut.JudgedOut"];
export type Answer = components["schemas"]["AnswerGo.Answer"];
export type Action = components["schemas"]["HandsGo.Action"];
export type Hands = components["schemas"]["HandsOut"];
export type Seen = components["schemas"]["SeenOut"];
type OnWhat = components["schemas"]["BeginGo.OnWhat"];
type GoRef = components["schemas"]["Go"];
export type Ready = components["schemas"]["ReadyList.ReadyOut"];

const PRACTICE = "practice";

/** Which go, as the server is told: its id, or all of it. */
export function refOf(go: Go): GoRef {
  return go.go_id === null ? { loose: go.loose } : { go_id: go.go_id };
}

/** The drills, and what someone has shown of them; nobody: the drills alone. */
export function usePractice(personId: string | null) {
  return useQuery({
    queryKey: [PRACTICE, personId],
    placeholderData: keepPreviousData,
    queryFn: () => answered(api.GET("/api/practice", { params: { query: personId === null ? {} : { person_id: personId } } })),
  });
}

/** Begin a go at a drill; an unfinished one of today goes on. */
export function useBeginGo() {
  return useMutation({
    mutationFn: (asked: { drill: string; personId: string | null; on: OnWhat }) =>
      answered(
        api.POST("/api/practice/begin", { body: { id: newId(), drill: asked.drill, person_id: asked.personId, on: asked.on } }),
      ),
  });
}

/** A go that is kept, as it stands. */
export function useKeptGo(goId: string | undefined) {
  return useQuery({
    queryKey: ["go", goId],
    enabled: goId !== undefined,
    gcTime: 0,
    queryFn: () => answered(api.POST("/api/practice/question", { body: { go_id: goId ?? null } })),
  });
}

/** A go that nothing is kept of; each `round` is another. */
export function useLooseGo(drill: string, kind: string, round: number, wanted: boolean) {
  return useQuery({
    queryKey: ["try", drill, kind, round],
    enabled: wanted,
    gcTime: 0,
    staleTime: Infinity,
    queryFn: () =>
      answered(
        api.POST("/api/practice/begin", {
          body: { id: newId(), drill, person_id: null, on: { kind: kind as NonNullable<OnWhat["kind"]> } },
        }),
      ),
  });
}

/** Answer, and end. An answer has its id from the first try on, so that it is scored once however often it is sent. */
export function useAnswering() {
  const queries = useQueryClient();
  const changed = () => void queries.invalidateQueries({ queryKey: [PRACTICE] });
  const answer = useMutation({
    mutationFn: (asked: { go: Go; id: string; answer: Answer; seconds: number }) =>
      answered(
        api.POST("/api/practice/answer", {
          body: { go: refOf(asked.go), id: asked.id, number: asked.go.number, answer: asked.answer, seconds: asked.seconds },
        }),
      ),
    retry: (count, error) => error instanceof Away && count < 30,
    retryDelay: 1000,
    onSuccess: changed,
  });
  const end = useMutation({
    mutationFn: (go: Go) => answered(api.POST("/api/practice/end", { body: refOf(go) })),
    onSuccess: changed,
  });
  return { answer, end };
}

/** The instrument in hand after what was done to it. */
export function askHands(go: Go, actions: Action[], string: string | null): Promise<Hands> {
  return answered(api.POST("/api/practice/hands", { body: { go: refOf(go), actions, string } }));
}

/** What a question sounds like, for eyes. */
export function askSeen(go: Go): Promise<Seen> {
  return answered(api.POST("/api/practice/seen", { body: refOf(go) }));
}

/** What is heard beside a question that was answered; `after`: the go since then. */
export async function askBeside(after: Go, number: number): Promise<ArrayBuffer> {
  const body = { go: refOf(after), of: "beside" as const, how: "bow" as const, actions: [], number };
  return (await answered(api.POST("/api/practice/sound", { body, parseAs: "arrayBuffer" }))) as unknown as ArrayBuffer;
}

/** What is to be heard: the question, or the string in hand. */
export async function askSound(
  go: Go,
  of: "question" | "string",
  how: "pluck" | "bow" = "pluck",
  actions: Action[] = [],
  strings: string[] | null = null,
): Promise<ArrayBuffer> {
  const sound = await answered(
    api.POST("/api/practice/sound", { body: { go: refOf(go), of, how, actions, strings }, parseAs: "arrayBuffer" }),
  );
  return sound as unknown as ArrayBuffer;
}

/** Players by how near they are to their next clearance. */
export function useReady(wanted: boolean) {
  return useQuery({ queryKey: [PRACTICE, "ready"], enabled: wanted, queryFn: () => answered(api.GET("/api/practice/ready")) });
}

/** Five minutes of drills for those who are there. */
export function useLesson(query: { people: string; quiet: boolean; devices: number }, wanted: boolean) {
  return useQuery({
    queryKey: [PRACTICE, "lesson", query],
    enabled: wanted,
    placeholderData: keepPreviousData,
    queryFn: () => answered(api.GET("/api/practice/lesson", { params: { query } })),
  });
}
