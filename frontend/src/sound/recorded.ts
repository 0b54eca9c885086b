import { openMicrophone } from "./microphone";

/** A busy device gives its sound late: it is waited for, up to so many times as long. */
const LATEST_TIMES = 2;
const LOOKS_MS = 100;

/** So many seconds of the microphone as a WAV; `onBegun`: they begin now. */
export async function recorded(seconds: number, onBegun?: () => void): Promise<Blob> {
  const blocks: ArrayBuffer[] = [];
  let gone: string | null = null;
  const microphone = await openMicrophone(
    (block) => {
      blocks.push(block);
    },
    (message) => {
      gone = message;
    },
  );
  try {
    blocks.length = 0;
    onBegun?.();
    const wanted = seconds * microphone.sampleRate;
    const has = () => blocks.reduce((sum, block) => sum + block.byteLength / 2, 0);
    const latest = performance.now() + LATEST_TIMES * 1000 * seconds;
    do await new Promise((resolve) => setTimeout(resolve, LOOKS_MS));
    while (has() < wanted && gone === null && performance.now() < latest);
  } finally {
    microphone.close();
  }
  if (gone !== null) throw new Error(gone);
  return wav(blocks, microphone.sampleRate);
}

/** 16-bit PCM of one channel as a WAV file. */
function wav(blocks: ArrayBuffer[], rate: number): Blob {
  const size = blocks.reduce((sum, block) => sum + block.byteLength, 0);
  const head = new DataView(new ArrayBuffer(44));
  const write = (at: number, text: string) => {
    [...text].forEach((letter, place) => {
      head.setUint8(at + place, letter.charCodeAt(0));
    });
  };
  write(0, "RIFF");
  head.setUint32(4, 36 + size, true);
  write(8, "WAVEfmt ");
  head.setUint32(16, 16, true);
  head.setUint16(20, 1, true);
  head.setUint16(22, 1, true);
  head.setUint32(24, rate, true);
  head.setUint32(28, 2 * rate, true);
  head.setUint16(32, 2, true);
  head.setUint16(34, 16, true);
  write(36, "data");
  head.setUint32(40, size, true);
  return new Blob([head.buffer, ...blocks], { type: "audio/wav" });
}
