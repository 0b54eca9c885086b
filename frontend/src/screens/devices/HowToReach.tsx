import type { Devices } from "../../api/device";
import { Folded } from "../../parts/Folded";

const STEPS: readonly (readonly [string, readonly string[]])[] = [
  [
    "Tablet or phone with a round power button on its edge and no back key (profiles)",
    [
      "Open the address in the browser that came with the device and save the file below.",
      "In the settings choose the profile that was loaded, and install it.",
      "In the settings under General, About, Certificate trust, switch it on.",
    ],
  ],
  [
    "Tablet or phone with a back key or gesture (security settings)",
    [
      "Save the file below on the device.",
      "In the settings search for “CA certificate”, choose to install it all the same, and pick the file.",
    ],
  ],
  [
    "Laptop",
    [
      "Save the file below and open it: the system offers to add it. Put it where authorities are kept that are trusted for websites.",
      "A browser with a list of its own (it has “certificates” in its settings) takes it there, under authorities, for websites.",
    ],
  ],
];

/** Under which address other devices find Pondus, and how they come to trust it. */
export function HowToReach({ devices }: { devices: Devices }) {
  const [first, ...others] = devices.addresses;
  if (first === undefined) return null;
  return (
    <section aria-label="How devices reach Pondus">
      <h2 className="mb-2 text-2xl font-bold">How devices reach Pondus</h2>
      <div className="flex flex-wrap items-start gap-4">
        <img src={first.qr} alt={`QR code of ${first.url}`} className="w-36 rounded-md bg-white" />
        <div className="min-w-56 flex-1">
          <p className="text-lg font-bold break-all">{first.url}</p>
          {first.stays && <p>This address stays, whatever network this computer is in.</p>}
          {others.map((each) => (
            <p key={each.url} className="text-pencil">
              or <span className="break-all">{each.url}</span>, if a device doesn’t find the name
            </p>
          ))}
        </div>
      </div>
      {devices.own_authority && (
        <>
          <h3 className="mt-4 text-lg font-bold">The warning, once</h3>
          <p>
            The browser says that it doesn’t know this site. It is right: nobody but you vouches for it. Choose <i>Advanced</i>{" "}
            or <i>Details</i>, then go on to the site. Everything works then, the microphone too; only putting Pondus among the
            device’s apps needs trust.
          </p>
          <Folded title="So that it warns no more" className="mt-2">
            <p className="mb-2">
              A device that trusts the studio’s own authority warns no more. That authority can vouch for this studio’s name and
              for addresses of your own network, and for nothing else.
            </p>
            <p className="mb-2">
              <a href="/api/authority.crt" className="font-bold underline underline-offset-4">
                The authority’s certificate
              </a>
            </p>
            {STEPS.map(([device, steps]) => (
              <div key={device} className="mb-3">
                <h4 className="font-bold">{device}</h4>
                <ol className="list-decimal pl-6">
                  {steps.map((step) => (
                    <li key={step}>{step}</li>
                  ))}
                </ol>
              </div>
            ))}
            <p className="text-sm break-all text-pencil">Its fingerprint (SHA-256), to compare: {devices.authority_sha256}</p>
          </Folded>
        </>
      )}
    </section>
  );
}
