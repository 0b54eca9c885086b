import { useDevices } from "../../api/device";
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
  if (devices.data === undefined) {
    return (
      <Shell title="Devices">
        <Unready query={devices} what="the devices" />
      </Shell>
    );
  }
  const isShared = devices.data.addresses.length > 0;
  return (
    <Shell title="Devices">
      <main
        id="content"
        tabIndex={-1}
        className="grid grid-cols-[minmax(0,1fr)] gap-8 py-4 outline-none lg:grid-cols-2"
      >
        <div className="flex min-w-0 flex-col gap-8">
          {isShared ? <LetIn roles={devices.data.roles} /> : <NotShared />}
          <WhoIsIn devices={devices.data} now={devices.dataUpdatedAt} />
        </div>
        <div className="flex min-w-0 flex-col gap-8">
          {isShared && <HowToReach devices={devices.data} />}
          <Passphrases devices={devices.data} />
        </div>
        <Trouble error={devices.error} />
      </main>
    </Shell>
  );
}

function NotShared() {
  return (
    <section aria-label="Let a device in">
      <h2 className="mb-2 text-2xl font-bold">Other devices</h2>
      <p className="text-lg">
        Pondus answers on this computer only. To use it on tablets and phones of the same network, stop it and
        start it again with
      </p>
      <pre className="my-2 overflow-x-auto rounded-md bg-sheet p-3 text-lg">bin/pondus start --share</pre>
      <p>Nothing of the studio leaves your network. Whoever comes in signs in first.</p>
    </section>
  );
}
