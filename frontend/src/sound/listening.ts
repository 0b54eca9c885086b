import { answered, api } from "../api/client";
import { SoundRequests } from "./requests";
import type { Hearing, ListenTo } from "./socket";
import { ListeningSocket } from "./socket";

/** A way for sound to the server. */
export interface Listening {
  send: (block: ArrayBuffer) => void;
  close: () => void;
}

const TRIES = 2;

/**
 * Sound goes by a socket; where the browser won't open one though the server answers (some don't, to a site they have warned of),
 * by ordinary requests.
 */
export function openListening(to: ListenTo, hearing: Hearing): Listening {
  let failed = 0;
  let closed = false;
  const turnToRequests = async () => {
    const answers = await answered(api.GET("/api/me")).then(
      () => true,
      () => false,
    );
    if (!answers || closed) return;
    way.close();
    way = new SoundRequests(to, hearing);
  };
  let way: Listening = new ListeningSocket(to, {
    ...hearing,
    onNeverReady: () => {
      failed += 1;
      if (failed === TRIES) void turnToRequests();
    },
  });
  return {
    send: (block) => {
      way.send(block);
    },
    close: () => {
      closed = true;
      way.close();
    },
  };
}
