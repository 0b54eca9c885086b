/** An open microphone: 16-bit PCM blocks arrive until it is closed. */
export interface OpenMicrophone {
  sampleRate: number;
  /** What the browser does to the sound though it was asked not to, in words; null: nothing. */
  bends: string | null;
  close: () => void;
}

/** How long a device may take to let the sound begin, and to let it go on after a call or another program took it. */
const BEGINS_WITHIN_MS = 5000;

/** Why there is no microphone, in words for the person. */
export class NoMicrophone extends Error {}

/**
 * Open the microphone as it is, with the browser's speech clean-up off: it would bend the pitch.
 * @param onBlock 1024 samples of 16-bit PCM at a time
 * @param onGone the microphone was unplugged or taken away
 */
export async function openMicrophone(
  onBlock: (block: ArrayBuffer) => void,
  onGone: (message: string) => void,
): Promise<OpenMicrophone> {
  const stream = await askForStream();
  const context = new AudioContext();
  try {
    await context.audioWorklet.addModule("/capture-worklet.js");
  } catch {
    stop(stream, context);
    throw new NoMicrophone("This browser can't pass sound on. Use a current one, or type the readings.");
  }
  const source = context.createMediaStreamSource(stream);
  const capture = new AudioWorkletNode(context, "capture", { numberOfOutputs: 0 });
  capture.port.onmessage = (event: MessageEvent<ArrayBuffer>) => {
    onBlock(event.data);
  };
  source.connect(capture);
  for (const track of stream.getTracks())
    track.addEventListener("ended", () => {
      onGone("The microphone is gone. Plug it in and press Listen again; or type.");
    });
  if (!(await runs(context))) {
    stop(stream, context);
    throw new NoMicrophone(
      "This device doesn't let the sound begin. Close what else plays or records, and press Listen again; or type the readings.",
    );
  }
  context.onstatechange = () => {
    if (context.state === "running" || context.state === "closed") return;
    void runs(context).then((again) => {
      if (!again && context.state !== "closed")
        onGone("A call or another program took the sound. Press Listen again when it is over; or type.");
    });
  };
  return {
    sampleRate: context.sampleRate,
    bends: bentBy(stream),
    close: () => {
      context.onstatechange = null;
      stop(stream, context);
    },
  };
}

const AS_IT_IS = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
const CLEAN_UP = {
  echoCancellation: "takes echoes out",
  noiseSuppression: "takes noise out",
  autoGainControl: "changes the loudness",
} as const;

function bentBy(stream: MediaStream): string | null {
  const settings: MediaTrackSettings = stream.getAudioTracks()[0]?.getSettings() ?? {};
  const done = Object.entries(CLEAN_UP).filter(([key]) => settings[key as keyof typeof CLEAN_UP] === true);
  if (done.length === 0) return null;
  return `This browser ${done.map(([, said]) => said).join(", ")} and can’t be stopped from doing so: play long and close, and check any figure that stands alone.`;
}

const CHOSEN = "pondus-microphone";

/** Which microphone was chosen on this device; null: whichever the browser takes. */
export function chosenMicrophone(): string | null {
  try {
    return localStorage.getItem(CHOSEN);
  } catch {
    return null;
  }
}

/** Take this one from now on; null: whichever the browser takes. */
export function chooseMicrophone(id: string | null): void {
  try {
    if (id === null) localStorage.removeItem(CHOSEN);
    else localStorage.setItem(CHOSEN, id);
  } catch {
    return; // a browser that keeps nothing takes its own each time
  }
}

/** The microphones of this device, as far as the browser names them. */
export async function microphones(): Promise<{ id: string; name: string }[]> {
  const devices = navigator.mediaDevices as MediaDevices | undefined;
  const found = (await devices?.enumerateDevices().catch(() => [])) ?? [];
  return found
    .filter((each) => each.kind === "audioinput" && each.label !== "" && each.deviceId !== "default")
    .map((each) => ({ id: each.deviceId, name: each.label }));
}

/** Let the sound run; whether it does. A context that is held back answers to nothing, so this doesn't wait for long. */
async function runs(context: AudioContext): Promise<boolean> {
  const late = new Promise<void>((resolve) => setTimeout(resolve, BEGINS_WITHIN_MS));
  await Promise.race([context.resume().catch(() => undefined), late]);
  return context.state === "running";
}

function stop(stream: MediaStream, context: AudioContext): void {
  for (const track of stream.getTracks()) track.stop();
  void context.close();
}

async function askForStream(): Promise<MediaStream> {
  // Where the page is not secure, browsers leave mediaDevices out altogether, whatever the types say.
  const devices = navigator.mediaDevices as MediaDevices | undefined;
  if (!window.isSecureContext || devices === undefined) {
    throw new NoMicrophone(
      "Browsers give the microphone only to secure pages. Open Pondus on the computer it runs on (127.0.0.1), or put it behind https. Typed readings work here too.",
    );
  }
  const chosen = chosenMicrophone();
  const plain = { ...AS_IT_IS, channelCount: 1, ...(chosen !== null && { deviceId: { ideal: chosen } }) };
  try {
    return await devices.getUserMedia({ audio: plain });
  } catch (error) {
    throw new NoMicrophone(reasonFor(error instanceof DOMException ? error.name : ""));
  }
}

function reasonFor(name: string): string {
  if (name === "NotAllowedError") {
    return "The microphone was not allowed. Allow it for this page (the sign beside the address) and press Listen again; or type the readings.";
  }
  if (name === "NotFoundError") return "No microphone was found. Plug one in and press Listen again; or type the readings.";
  if (name === "NotReadableError") {
    return "Another program holds the microphone. Close that program and press Listen again; or type the readings.";
  }
  return "The microphone can't be opened. Try again, or type the readings.";
}
