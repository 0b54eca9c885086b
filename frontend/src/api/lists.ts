import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { Away, Refused, answered, api, newId, sending } from "./client";

export type ListKind = NonNullable<components["schemas"]["ListChange"]["kind"]>;
export type DateOrder = NonNullable<components["schemas"]["ListChange"]["order"]>;
export type ListChange = components["schemas"]["ListChange"];

/** A list looked through, as the server tells it at the end of its lines. */
export interface BroughtList {
  id: string;
  kind: ListKind;
  file_name: string;
  header_line: number;
  first_lines: { line: number; said: string }[];
  columns: { header: string; field: string | null; first: string[] }[];
  fields: { name: string; said: string; needed: boolean }[];
  missing: string[];
  order: DateOrder | null;
  has_dates: boolean;
  rows: number;
  good: number;
  bad_count: number;
  bad: { line: number; said: string; field: string | null; word: string | null; choices: string[] }[];
  changing_count: number;
  changing: { line: number; label: string; changes: { said: string; before: string; after: string }[] }[];
  same: number;
  people_count: number;
  new_names: string[];
  new_names_count: number;
  absent_count: number;
  absent: string[];
}

/** How far a list is: rows looked through or stored, then of how many instruments it is worked out what they teach. */
export interface Progress {
  doing: "looking" | "storing" | "working-out";
  done: number;
  of?: number;
}

interface Line extends Partial<Progress> {
  list?: BroughtList;
  stored?: { rows_stored: number };
  error?: { message: string; field: string | null };
}

/** Lines of JSON as they come; the last one. `onDone` is told how far it is. */
async function lastLine(call: Promise<Response>, onDone: (progress: Progress) => void): Promise<Line> {
  let response: Response;
  try {
    response = await call;
  } catch {
    throw new Away();
  }
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let waiting = "";
  let last: Line = {};
  while (reader !== undefined) {
    const { value, done } = await reader.read();
    if (done) break;
    waiting += value;
    const lines = waiting.split("\n");
    waiting = lines.pop() ?? "";
    for (const line of lines.filter((each) => each !== "")) {
      last = JSON.parse(line) as Line;
      if (last.doing !== undefined) onDone({ doing: last.doing, done: last.done ?? 0, of: last.of });
    }
  }
  if (waiting.trim() !== "") last = JSON.parse(waiting) as Line;
  if (last.error !== undefined) throw new Refused(last.error.message, last.error.field);
  if (!response.ok) throw new Refused("That didn't work; try again.", null);
  return last;
}

const JSON_HEADERS = { "Content-Type": "application/json" };

/** Bring a file; it is looked through, not stored. */
export function useBring(onDone: (progress: Progress) => void) {
  return useMutation({
    mutationFn: async (file: File): Promise<BroughtList> => {
      const form = new FormData();
      form.set("id", newId());
      form.set("file", file);
      const { list } = await lastLine(sending("/api/lists", { method: "POST", body: form }), onDone);
      if (list === undefined) throw new Away();
      return list;
    },
  });
}

/** Say what a list is; it is looked through anew. */
export function useChangeList(onDone: (progress: Progress) => void) {
  return useMutation({
    mutationFn: async ({ id, change }: { id: string; change: ListChange }): Promise<BroughtList> => {
      const sent = { method: "PATCH", headers: JSON_HEADERS, body: JSON.stringify(change) };
      const { list } = await lastLine(sending(`/api/lists/${id}`, sent), onDone);
      if (list === undefined) throw new Away();
      return list;
    },
  });
}

/** What of a list isn't stored: its bad rows, these lines. */
export interface Storing {
  leaveOutBad: boolean;
  leaveOut: number[];
}

/** Store a list, all or nothing; how many rows were stored. */
export function useConfirmList(onDone: (progress: Progress) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, leaveOutBad, leaveOut }: Storing & { id: string }): Promise<number> => {
      const body = JSON.stringify({ leave_out_bad: leaveOutBad, leave_out: leaveOut });
      const sent = { method: "POST", headers: JSON_HEADERS, body };
      const { stored } = await lastLine(sending(`/api/lists/${id}/confirm`, sent), onDone);
      if (stored === undefined) throw new Away();
      return stored.rows_stored;
    },
    onSuccess: () => queries.invalidateQueries(),
  });
}

/** The list that was stored last and can be taken back. */
export function useLastList() {
  return useQuery({ queryKey: ["last-list"], queryFn: () => answered(api.GET("/api/lists/last")) });
}

export function useUndoList() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => answered(api.POST("/api/lists/{list_id}/undo", { params: { path: { list_id: id } } })),
    onSuccess: () => queries.invalidateQueries(),
  });
}

/** Records that can't be used as they stand. */
export function useSetAside() {
  return useQuery({ queryKey: ["set-aside"], queryFn: () => answered(api.GET("/api/set-aside")) });
}
