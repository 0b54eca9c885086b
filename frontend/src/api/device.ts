import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import type { components } from "./schema";
import { browserStore } from "./browserStore";
import { answered, api, newId } from "./client";
import { queries } from "./queries";
import { liveIn } from "./studioZone";

export type Me = components["schemas"]["MeOut"];
type Act = Me["can"][number];
export type Devices = components["schemas"]["DevicesOut"];
type NewInvitation = components["schemas"]["NewInvitation"];

const ME = ["me"];
const DEVICES = ["devices"];
const ASKED_EVERY_MS = 60_000;

/** Who holds this device, and what may be done on it. */
export function useMe() {
  return useQuery({
    queryKey: ME,
    queryFn: () => answered(api.GET("/api/me")),
    staleTime: ASKED_EVERY_MS,
    refetchInterval: ASKED_EVERY_MS,
    // Whatever is written of days and times is written by the studio's clock, from the first answer on.
    select: (me) => {
      liveIn(me.zone);
      return me;
    },
  });
}

/** Whether something may be done on this device, as the server told. */
export function useMay(act: Act): boolean {
  return useMe().data?.can.includes(act) ?? false;
}

/** Ask anew who this is: the server just treated it as a stranger. */
export function askWhoIAm(): void {
  void queries.invalidateQueries({ queryKey: ME });
}

/** Nothing of the studio stays on this device but what waits to be sent. */
export async function forgetSeen(): Promise<void> {
  queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" });
  try {
    sessionStorage.clear();
  } catch {
    // a browser that keeps nothing has nothing to forget
  }
  await (await browserStore())?.clear("seen").catch(() => undefined);
}

/** Someone else's page from now on: load it anew, so that nothing of the one before is on it. */
async function beginAnew(): Promise<void> {
  await forgetSeen();
  window.location.replace("/");
}

export function useSignIn() {
  return useMutation({
    mutationFn: (body: components["schemas"]["SignIn"]) => answered(api.POST("/api/sign-in", { body })),
    onSuccess: beginAnew,
  });
}

export function useJoin() {
  return useMutation({
    mutationFn: (code: string) => answered(api.POST("/api/join", { body: { code } })),
    onSuccess: beginAnew,
  });
}

export function useSignOut() {
  return useMutation({ mutationFn: () => answered(api.POST("/api/sign-out")), onSuccess: beginAnew });
}

/** Who is in, and how others come in. */
export function useDevices() {
  return useQuery({ queryKey: DEVICES, queryFn: () => answered(api.GET("/api/devices")), refetchInterval: 15_000 });
}

function useDevicesChange<Input>(send: (input: Input) => Promise<Devices>) {
  const client = useQueryClient();
  return useMutation<Devices, Error, Input>({
    mutationFn: send,
    onSuccess: (devices) => {
      client.setQueryData(DEVICES, devices);
    },
  });
}

export function useEndDevice() {
  return useDevicesChange((id: string) =>
    answered(api.DELETE("/api/devices/{session_id}", { params: { path: { session_id: id } } })),
  );
}

export function useSetPassphrase() {
  return useDevicesChange((body: components["schemas"]["NewPassphrase"]) => answered(api.POST("/api/passphrase", { body })));
}

export function useLock() {
  return useDevicesChange((locked: boolean) => answered(api.PATCH("/api/lock", { body: { locked } })));
}

/** A code that lets one device in. */
export function useInvite() {
  return useMutation({ mutationFn: (body: NewInvitation) => answered(api.POST("/api/invitations", { body })) });
}

/** Whoever holds this device is there this morning. */
export function useCome() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => answered(api.POST("/api/morning/come", { body: { id: newId() } })),
    onSuccess: async (planned) => {
      client.setQueryData(["morning-plan"], planned);
      await client.invalidateQueries({ queryKey: ME });
    },
  });
}
