import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api, newId } from "./client";

export type Person = components["schemas"]["PersonList.PersonOut"];
export type Stage = components["schemas"]["PersonList.StageOut"];
type PersonChange = components["schemas"]["PersonChange"];
type NewPerson = components["schemas"]["NewPerson"];

const KEY = ["people"];

/** Everyone on the roll; `asks`: whether this device may. */
export function usePeople(asks = true) {
  return useQuery({ queryKey: KEY, queryFn: () => answered(api.GET("/api/people")), enabled: asks });
}

export function useAddPerson() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Omit<NewPerson, "id">) => answered(api.POST("/api/people", { body: { ...body, id: newId() } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: KEY }),
  });
}

export function useChangePerson() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, change }: { id: string; change: PersonChange }) =>
      answered(api.PATCH("/api/people/{person_id}", { params: { path: { person_id: id } }, body: change })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: KEY });
      await queries.invalidateQueries({ queryKey: ["instruments"] });
    },
  });
}

export type NamedPlace = components["schemas"]["PlaceList.Place"];

/** Every place that holds a person's name. */
export function usePlaces(id: string) {
  return useQuery({
    queryKey: ["places", id],
    queryFn: () => answered(api.GET("/api/people/{person_id}/places", { params: { path: { person_id: id } } })),
    staleTime: 0,
  });
}

/** Erase a person for good. */
export function useErase(id: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: components["schemas"]["Erase"]) =>
      answered(api.POST("/api/people/{person_id}/erase", { params: { path: { person_id: id } }, body })),
    onSuccess: () => queries.invalidateQueries(),
  });
}
