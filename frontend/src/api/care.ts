import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api, newId } from "./client";

export type CareBook = components["schemas"]["CareBook"];
export type InstrumentCare = components["schemas"]["CareBook.InstrumentCare"];
export type CareEntry = components["schemas"]["CareOut"];
export type NewCare = components["schemas"]["NewCare"];
export type Air = components["schemas"]["CareBook.AirOut"];
type NewAir = components["schemas"]["NewAir"];

const KEY = ["care"];

export function useCare() {
  return useQuery({ queryKey: KEY, queryFn: () => answered(api.GET("/api/care")) });
}

/** Whatever care changes, the ledger, the roll and the morning may change with it. */
function useCareChange<Input, Result>(send: (input: Input) => Promise<Result>) {
  const queries = useQueryClient();
  return useMutation<Result, Error, Input>({
    mutationFn: send,
    onSuccess: async () => {
      for (const key of ["care", "ledger", "instruments", "morning"]) {
        await queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
}

export function useAddCare() {
  return useCareChange(({ instrument, entry }: { instrument: string; entry: Omit<NewCare, "id"> }) =>
    answered(
      api.POST("/api/instruments/{instrument_id}/care", {
        params: { path: { instrument_id: instrument } },
        body: { ...entry, id: newId() },
      }),
    ),
  );
}

export function useStrikeCare() {
  return useCareChange(({ id, back }: { id: string; back: boolean }) => {
    const params = { path: { care_id: id } };
    return back
      ? answered(api.DELETE("/api/care/{care_id}/strike", { params }))
      : answered(api.POST("/api/care/{care_id}/strike", { params, body: {} }));
  });
}

export function useAddAir() {
  return useCareChange((air: Omit<NewAir, "id">) => answered(api.POST("/api/room", { body: { ...air, id: newId() } })));
}

export function useStrikeAir() {
  return useCareChange((id: string) =>
    answered(api.POST("/api/room/{room_id}/strike", { params: { path: { room_id: id } }, body: {} })),
  );
}

export function useStringLife() {
  return useCareChange((months: number) => answered(api.PATCH("/api/care/settings", { body: { string_life_months: months } })));
}
