/* Runs in the audio thread: gathers the microphone's samples and hands them over as 16-bit PCM, 2048 at a time. */
class Capture extends AudioWorkletProcessor {
  constructor() {
    super();
    this.block = new Int16Array(2048);
    this.filled = 0;
  }

  process(inputs) {
    const channel = inputs[0] && inputs[0][0];
    if (!channel) return true;
    for (let place = 0; place < channel.length; place++) {
      const sample = Math.max(-1, Math.min(1, channel[place]));
      this.block[this.filled++] = Math.round(sample * 32767);
      if (this.filled === this.block.length) {
        this.port.postMessage(this.block.buffer, [this.block.buffer]);
        this.block = new Int16Array(2048);
        this.filled = 0;
      }
    }
    return true;
  }
}

registerProcessor("capture", Capture);
