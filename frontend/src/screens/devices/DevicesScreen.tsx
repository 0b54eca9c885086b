import { useDevices, useLock, useMe } from "../../api/device";
import { Button } from "../../parts/Button";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { HowToReach } from "./HowToReach";
import { LetIn } from "./LetIn";
import { Passphrases } from "./Passphrases";
import { WhoIsIn } from "./WhoIsIn";

/** Which devices are in, how others come in, and who may sign in. */
export function DevicesScreen() {
  const devices = useDevices();
  const me = useMe().data;
  if (devices.data === undefined) {
    return (
      <Shell title="Devices">
        <Unready query={devices} what="the devices" />
      </Shell>
    );
  }
  const isShared = devices.data.addresses.length > 0;
  // While Pondus is shared, whoever has an account on this computer is a teacher, unless it is locked.
  const offersLock = isShared && devices.data.can_lock && !devices.data.locked && me?.signed_in === false;
  return (
    <Shell title="Devices">
      <main id="content" tabIndex={-1} className="grid grid-cols-[minmax(0,1fr)] gap-8 py-4 outline-none lg:grid-cols-2">
        {offersLock && <OfferLock />}
        <div className="flex min-w-0 flex-col gap-8">
          {isShared ? <LetIn roles={devices.data.roles} /> : <NotShared />}
          <WhoIsIn devices={devices.data} now={devices.dataUpdatedAt} />
        </div>
        <div className="flex min-w-0 flex-col gap-8">
          {isShared && <HowToReach devices={devices.data} />}
          <Passphrases devices={devices.data} offersLock={!offersLock} />
        </div>
        <Trouble error={devices.error} />
      </main>
    </Shell>
  );
}

function OfferLock() {
  const lock = useLock();
  return (
    <section
      aria-label="This computer"
      className="flex flex-wrap items-center gap-3 rounded-md border-2 border-ink bg-lit px-3 py-2 lg:col-span-2"
    >
      <p className="min-w-56 flex-1 text-lg">
        <b>This computer isn’t locked.</b> Every account on it can open Pondus as a teacher, without signing in.
      </p>
      <Button
        disabled={lock.isPending}
        onClick={() => {
          lock.mutate(true);
        }}
      >
        Lock it: sign in here, too
      </Button>
      <Trouble error={lock.error} />
    </section>
  );
}

function NotShared() {
  return (
    <section aria-label="Let a device in">
      <h2 className="mb-2 text-2xl font-bold">Other devices</h2>
      <p className="text-lg">
        Pondus answers on this computer only. To use it on tablets and phones of the same network, stop it and start it again
        with
      </p>
      <pre className="my-2 overflow-x-auto rounded-md bg-sheet p-3 text-lg">bin/pondus start --share</pre>
      <p>Nothing of the studio leaves your network. Whoever comes in signs in first.</p>
    </section>
  );
}
